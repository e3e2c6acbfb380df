import { kinds, readField, type Adapter, type Disk } from '../../estate/index.js'
import { resourceTypes } from './ovf.js'

/** A device as a descriptor's subtype means it, with what is to be said where that is a guess. */
export interface MeantDevice<Device> {
  readonly device: Device
  readonly remark?: string | undefined
}

/**
 * The bus of a controller. A subtype may be a list, the most wanted first.
 *
 * @param type `ResourceType`
 * @param subType `ResourceSubType`
 */
export function busOf(type: string, subType: string | undefined): Disk['bus'] {
  if (type === resourceTypes.ide) return 'IDE'
  if (/virtio|paravirt/i.test(subType ?? '')) return 'paravirtual'
  if (type === resourceTypes.scsi) return 'SCSI'
  return /nvme/i.test(subType ?? '') ? 'NVMe' : 'SATA'
}

/** Models of adapters by how their names begin: names of chips that many hypervisors imitate. Common practice, no source. */
const models: readonly (readonly [RegExp, Adapter['model']])[] = [
  [/^(virtio|paravirt)/i, 'paravirtual'],
  [/^(e1000e?|igb|i?8254\d)/i, 'emulated'],
  [/^(pcnet|am79c97|rtl8139|8139|ne2000|ne2k)/i, 'emulated old'],
]

/** The model of an adapter: the first of the subtypes wanted that is known. @see DMTF DSP0243: the list of subtypes is open */
export function modelOf(subType: string | undefined): MeantDevice<Adapter['model']> {
  const wanted = (subType ?? '').split(/[\s,]+/).filter(Boolean)
  for (const one of wanted) {
    const model = models.find(([begins]) => begins.test(one))?.[1]
    if (model) return { device: model }
  }
  return {
    device: 'emulated',
    remark: wanted.length > 0 ? `is of the type ${wanted.join(' ')}, which is not known here; it is taken as emulated` : undefined,
  }
}

/** The MAC a descriptor gives, if it is one. */
export function macOf(text: string | undefined): MeantDevice<string | null> {
  const reading = text === undefined ? undefined : readField(kinds.adapter.fields.mac, text)
  if (reading?.ok) return { device: reading.value as string }
  return { device: null, remark: text === undefined ? undefined : `gives ${text.slice(0, 40)} as its MAC, which is none; it gets one` }
}
