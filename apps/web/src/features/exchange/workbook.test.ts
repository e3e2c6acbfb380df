import { strToU8, zipSync } from 'fflate'
import { describe, expect, it } from 'vitest'
import { tablesOfWorkbook, WorkbookError } from './workbook'
import { reachOf } from './workbook-sheets'

/** A workbook of one sheet, made of its parts. @see ECMA-376 part 2 (packaging), part 1, 18.3 (worksheets) */
function workbook(rows: string, { styles = '' } = {}): Uint8Array {
  const main = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main'
  const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'
  const packaged = 'http://schemas.openxmlformats.org/package/2006'
  return zipSync({
    '[Content_Types].xml': strToU8(
      `<Types xmlns="${packaged}/content-types"><Default Extension="xml" ContentType="application/xml"/><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/></Types>`,
    ),
    '_rels/.rels': strToU8(
      `<Relationships xmlns="${packaged}/relationships"><Relationship Id="r1" Type="${office}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
    ),
    'xl/workbook.xml': strToU8(
      `<workbook xmlns="${main}" xmlns:r="${office}"><sheets><sheet name="Guests" sheetId="1" r:id="r1"/></sheets></workbook>`,
    ),
    'xl/_rels/workbook.xml.rels': strToU8(
      `<Relationships xmlns="${packaged}/relationships"><Relationship Id="r1" Type="${office}/worksheet" Target="worksheets/sheet1.xml"/><Relationship Id="r2" Type="${office}/styles" Target="styles.xml"/></Relationships>`,
    ),
    'xl/styles.xml': strToU8(`<styleSheet xmlns="${main}">${styles}</styleSheet>`),
    'xl/worksheets/sheet1.xml': strToU8(`<worksheet xmlns="${main}"><sheetData>${rows}</sheetData></worksheet>`),
  })
}
const cell = (at: string, value: string | number, style = '') => `<c r="${at}"${style}><v>${value}</v></c>`
const read = (bytes: Uint8Array) => tablesOfWorkbook(bytes.slice().buffer)

describe('a workbook', () => {
  it('of one cell in the farthest corner is refused before it is read: 1,048,576 rows of 16,384 columns', async () => {
    const far = workbook(`<row r="1048576">${cell('XFD1048576', 1)}</row>`)
    expect(far.length).toBeLessThan(2000)
    expect(reachOf(far)).toEqual({ sheets: [{ rows: 1_048_576, columns: 16_384, last: 'XFD1048576' }], isTooLarge: false })
    await expect(read(far)).rejects.toThrow(WorkbookError)
    await expect(read(far)).rejects.toThrow(/reaches to cell XFD1048576, which makes more than 2.000.000 cells/)
  })

  it('is looked at wherever its cells are cut into pieces', () => {
    const rows = Array.from(
      { length: 20_000 },
      (_, at) => `<row r="${at + 1}">${cell(`A${at + 1}`, Math.sin(at))}${cell(`AB${at + 1}`, at)}</row>`,
    )
    expect(reachOf(workbook(rows.join(''))).sheets).toEqual([{ rows: 20_000, columns: 28, last: 'AB20000' }])
  })

  it('with a date beyond all days says so in its cell', async () => {
    const styles = '<cellXfs count="2"><xf numFmtId="0"/><xf numFmtId="14" applyNumberFormat="1"/></cellXfs>'
    const [table] = await read(
      workbook(`<row r="1">${cell('A1', '1e300', ' s="1"')}${cell('B1', 45_000, ' s="1"')}${cell('C1', 7)}</row>`, { styles }),
    )
    // 45,000 days from 1899-12-30 are 2023-03-15.
    expect(table?.rows[0]?.cells).toEqual(['not a date', '2023-03-15', '7'])
  })

  it('that unpacks to more than is read, in whichever of its parts, is refused before it is read', async () => {
    const spaces = new Uint8Array(3_000_000).fill(32)
    for (const name of ['xl/worksheets/sheet1.xml', 'xl/sharedStrings.xml', '_rels/.rels']) {
      const bomb = zipSync({ [name]: spaces })
      expect([name, bomb.length < 10_000, reachOf(bomb, 2e6).isTooLarge, reachOf(bomb, 4e6).isTooLarge]).toEqual([name, true, true, false])
    }
    // Pictures are never unpacked.
    expect(reachOf(zipSync({ 'xl/media/image1.png': spaces }), 2e6).isTooLarge).toBe(false)
    const endless = zipSync({ 'xl/worksheets/sheet1.xml': strToU8(`<c ${' '.repeat(200_000)}`) })
    await expect(read(endless)).rejects.toThrow(/unpacks to more than is read/)
  })

  it('that is none is a sentence', async () => {
    await expect(read(strToU8('PK no archive'))).rejects.toThrow(/cannot be read as a workbook/)
    await expect(read(zipSync({ 'a.txt': strToU8('x') }))).rejects.toThrow(/cannot be read as a workbook/)
  })
})
