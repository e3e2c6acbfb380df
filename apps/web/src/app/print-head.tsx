import { timeZoneOf, formatInstant } from '@insel/core'
import { QRCodeSVG } from 'qrcode.react'
import { useEstate } from '../estate'
import { now } from '../lib/time'

/** Some 21 mm on paper: modules of a third of a millimetre for an address of 150 characters. */
const QR_PX = 80

/** What is on paper above a page and at the foot of each sheet: what it is, as of which change, when, and a code that opens it. */
export function PrintHead() {
  const { estate, basis, revision, person } = useEstate()
  const zone = timeZoneOf(estate)
  const name = estate.all('estate')[0]?.name ?? 'Estate'
  const title = document.title.replace(/ · Insel$/, '')
  const of =
    basis.on === 'item'
      ? `After “${basis.item.title}” of plan “${basis.plan.name}”, on the record at change ${revision}`
      : basis.on === 'asOf'
        ? `The record as of change ${basis.revision}`
        : `The record at change ${revision}`
  const when = `printed ${formatInstant(now(), zone)} (${zone})${person ? ` by ${person.name}` : ''}`
  return (
    <div className="hidden print:flex items-start gap-4 border-b border-rule pb-1" data-print-head>
      {/* Each sheet by itself says what it belongs to. */}
      <style>{`@page { margin: 12mm 12mm 14mm; @bottom-left { content: ${quoted(`${name}: ${title}. ${of}, ${when}`)}; font: 8pt sans-serif } @bottom-right { content: counter(page) " of " counter(pages); font: 8pt sans-serif } }`}</style>
      <p className="flex-1 min-w-0 text-small">
        <b>{name}.</b> {of}, {when}
        <br />
        <span className="font-mono text-small wrap-anywhere">{window.location.href}</span>
      </p>
      <QRCodeSVG value={window.location.href} size={QR_PX} level="M" title={`Opens ${title} on a phone`} marginSize={4} />
    </div>
  )
}

/** A text as CSS has it between quotes. */
const quoted = (text: string): string => `"${text.replace(/[\\"<\n]/g, ' ')}"`
