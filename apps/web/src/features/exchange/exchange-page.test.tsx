import { writeOvf } from '@insel/core'
import { idOf, smallEstate } from '@insel/core/testing'
import { act, fireEvent, screen, waitFor } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { problem } from '../../testing/api-stand-in'
import { leavePage, openPage, press, tick, type } from '../../testing/open-page'

const saved: { name: string; text: Promise<string> }[] = []
beforeEach(() => {
  saved.length = 0
  URL.createObjectURL = (blob) => {
    saved.push({ name: '', text: (blob as Blob).text() })
    return 'blob:made'
  }
  URL.revokeObjectURL = () => undefined
  vi.spyOn(HTMLAnchorElement.prototype, 'click').mockImplementation(function (this: HTMLAnchorElement) {
    const last = saved.at(-1)
    if (last) last.name = this.download
  })
})
afterEach(() => {
  vi.restoreAllMocks()
  leavePage()
})

const give = (label: RegExp | string, file: File) =>
  act(() => Promise.resolve(fireEvent.change(screen.getByLabelText(label), { target: { files: [file] } })))

describe('a guest, out', () => {
  it('is saved as a descriptor of either version, under its name', async () => {
    await openPage(`guests/exchange?guest=${idOf('news')}`)
    await press('OVF descriptor 1.1')
    expect(saved[0]?.name).toBe('newsroom.ovf')
    // DMTF DSP0243 1.1.0: the namespace of the envelope.
    expect(await saved[0]?.text).toContain('http://schemas.dmtf.org/ovf/envelope/1')
    await press('OVF descriptor 2.x')
    expect(await saved[1]?.text).toContain('http://schemas.dmtf.org/ovf/envelope/2')
  })

  it('as a table of all says what it leaves out', async () => {
    await openPage('guests/exchange')
    expect(screen.getByText(/^The table of guests leaves out: .*Processor mode/)).toBeDefined()
    await press('Guests as CSV')
    expect((await saved[0]?.text)?.split('\r\n')[0]).toContain('name,host,state')
    await press('Networks as CSV')
    expect((await saved[1]?.text)?.split('\r\n')[0]).toContain('Name,Role,VLAN ID')
  })
})

describe('a descriptor, in', () => {
  const estate = smallEstate()
  const playout = estate.find('guest', idOf('playout'))
  if (!playout) throw new Error('no playout')
  const file = (text: string, name = 'playout-1.ovf') => new File([text], name)

  it('becomes a guest with a name that is free, where it is put', async () => {
    const { view } = await openPage('guests/exchange')
    await give('Choose a descriptor or package', file(writeOvf(estate, playout)))
    const name = await screen.findByLabelText<HTMLInputElement>('Name')
    expect(name.value).not.toBe('playout-1')
    await type('Host', idOf('fulmar'))
    await press(/^Add the guest/)
    await waitFor(() => expect(view().estate.byKey('guest', { name: name.value })[0]?.hostId).toBe(idOf('fulmar')))
  })

  it('of another tool asks what it does not say: configuration, firmware, system; what is required and unknown stops it until it is said', async () => {
    const text = `<Envelope xmlns="http://schemas.dmtf.org/ovf/envelope/1" xmlns:ovf="http://schemas.dmtf.org/ovf/envelope/1" xmlns:rasd="urn:r" xmlns:x="urn:x">
      <DeploymentOptionSection><Info>o</Info><Configuration ovf:id="small"><Label>Small</Label></Configuration><Configuration ovf:id="big"><Label>Big</Label></Configuration></DeploymentOptionSection>
      <VirtualSystem ovf:id="relay"><Info>i</Info><x:CoolingSection><Info>c</Info></x:CoolingSection>
      <OperatingSystemSection ovf:id="1"><Info>o</Info><Description>Hobbyix 3</Description></OperatingSystemSection><VirtualHardwareSection><Info>h</Info>
      <Item><rasd:InstanceID>1</rasd:InstanceID><rasd:ResourceType>3</rasd:ResourceType><rasd:VirtualQuantity>1</rasd:VirtualQuantity></Item>
      <Item ovf:configuration="big"><rasd:InstanceID>1</rasd:InstanceID><rasd:ResourceType>3</rasd:ResourceType><rasd:VirtualQuantity>3</rasd:VirtualQuantity></Item>
      <Item><rasd:AllocationUnits>byte * 2^20</rasd:AllocationUnits><rasd:InstanceID>2</rasd:InstanceID><rasd:ResourceType>4</rasd:ResourceType><rasd:VirtualQuantity>512</rasd:VirtualQuantity></Item>
      <Item><rasd:HostResource>ovf:/disk/gone</rasd:HostResource><rasd:InstanceID>3</rasd:InstanceID><rasd:ResourceType>17</rasd:ResourceType></Item>
      </VirtualHardwareSection></VirtualSystem></Envelope>`
    const { view } = await openPage('guests/exchange')
    await give('Choose a descriptor or package', file(text, 'relay.ovf'))
    expect(await screen.findByText('Disk 1 is left out: the DiskSection has no disk gone.')).toBeDefined()
    await type('Configuration', 'big')
    await type('Firmware', 'BIOS')
    expect(screen.getByRole('option', { name: /“Hobbyix 3” goes into the note/ })).toBeDefined()
    expect(screen.getByRole('button', { name: /^Add the guest/ })).toHaveProperty('disabled', true)
    await tick('Plan it all the same, without what is said there')
    await press(/^Add the guest/)
    await waitFor(() =>
      expect(view().estate.byKey('guest', { name: 'relay' })[0]).toMatchObject({ vcpu: 3, firmware: 'BIOS', note: 'System: Hobbyix 3' }),
    )
  })

  it('that is none is refused with its line', async () => {
    await openPage('guests/exchange')
    await give('Choose a descriptor or package', file('<Envelope>\n<broken', 'broken.ovf'))
    expect((await screen.findByRole('alert')).textContent).toMatch(/^broken\.ovf, line \d+:/)
  })
})

describe('the whole estate, in', () => {
  it('is refused with what is wrong in the file, and nothing is made', async () => {
    const { api } = await openPage('guests/exchange')
    api.instead.set('/api/v1/estates/import', () =>
      problem(422, 'invalid', 'The file cannot be read in.', [{ path: '', message: 'records.guest[0] “x”: Name is missing.' }]),
    )
    await give(/^Import as a new estate/, new File(['{"records":{"estate":[{"name":"Skerry Sound"}]}}'], 'estate.json'))
    expect((await screen.findByLabelText<HTMLInputElement>(/^Name of the new estate/)).value).toBe('Skerry Sound')
    await press('Import')
    expect((await screen.findByRole('alert')).textContent).toBe('Nothing was imported. records.guest[0] “x”: Name is missing.')
  })
})
