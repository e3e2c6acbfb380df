import { readSpecLine, sizeFor, workloadsOf, checkDevices, kinds, readFields, type Fit } from '@insel/core'
import { describe, expect, it } from 'vitest'
import { idOf, smallEstate } from '@insel/core/testing'
import { devicesOfDraft, draftOf, applyMend, applySpecLine, readDraft, applySizing, systemOfDraft, type GuestForm } from './guest-form'

const estate = smallEstate()
const of = (line: string): GuestForm => draftOf(estate, readSpecLine(line).spec)
const guestOf = (draft: GuestForm, fit?: Fit) => {
  const read = readDraft(draft, fit)
  if ('problems' in read) throw new Error(Object.values(read.problems).join(' '))
  return read.guest
}

describe('a draft of a guest', () => {
  it('is filled from the line, with the usual values where the line says nothing', () => {
    const { guest, disks, adapters } = guestOf(of('mail 2cpu 4G 40G+100G on gannet net office,studio store nvme-1 #desk'))
    expect(guest).toMatchObject({
      name: 'mail',
      hostId: idOf('gannet'),
      vcpu: 2,
      memoryMiB: 4096,
      sockets: 1,
      processorMode: 'host',
      machineType: 'PCIe',
      bootFirst: 'disk',
      state: 'planned',
      tags: ['desk'],
    })
    expect(disks.map(({ use, bus, storeId }) => [use, bus, storeId])).toEqual([
      ['system', 'paravirtual', idOf('nvme1')],
      ['data', 'paravirtual', idOf('nvme1')],
    ])
    expect(adapters.map(({ networkId, model }) => [networkId, model])).toEqual([
      [idOf('office'), 'paravirtual'],
      [idOf('studio'), 'paravirtual'],
    ])
  })

  it('keeps what was filled in by hand when the line goes on', () => {
    const [before, after] = [of('mail 2cpu'), of('mail 2cpu 4G')]
    const manualSteps: GuestForm = { ...before, texts: { ...before.texts, purpose: 'letters', vcpu: '6' } }
    expect(applySpecLine(manualSteps, before, after).texts).toMatchObject({ purpose: 'letters', vcpu: '6', memoryMiB: '4 GiB' })
    expect(applySpecLine(manualSteps, before, of('mail 3cpu')).texts['vcpu']).toBe('3')
  })

  it('says by field what cannot be read', () => {
    const draft = of('mail 2cpu 4G 40G')
    const [disk] = draft.disks
    const wrong: GuestForm = {
      ...draft,
      texts: { ...draft.texts, memoryMiB: 'lots', vcpu: '' },
      disks: disk ? [{ ...disk, size: 'big' }] : [],
    }
    const read = readDraft(wrong, undefined)
    expect('problems' in read && Object.keys(read.problems).sort()).toEqual(['disk.0', 'memoryMiB', 'vcpu'])
  })

  it('takes the store that is proposed where none was chosen', () => {
    const nvme = estate.find('store', idOf('nvme2'))
    const fit = { hostId: idOf('fulmar'), verdict: 'fits', lines: [], stores: [nvme], left: { memoryMiB: 0, cores: 0 } } as Fit
    expect(guestOf(of('mail 2cpu 4G 40G on fulmar'), fit).disks[0]?.storeId).toBe(idOf('nvme2'))
  })

  it('brings along a system of the catalogue, until another is chosen', () => {
    const draft: GuestForm = { ...of('a 1cpu 1G'), newSystem: { id: idOf('system'), values: { name: 'Kelp 1' } } }
    expect(systemOfDraft(estate, { ...draft, texts: { ...draft.texts, systemId: idOf('system') } })?.name).toBe('Kelp 1')
    expect(systemOfDraft(estate, draft)).toBeUndefined()
  })

  it('mended by what is proposed, nothing is left that the system does not drive', () => {
    const system = {
      id: 's',
      ...readFields(kinds.system.fields, { name: 'Old', paravirtualDisk: 'none', paravirtualNet: 'none', firmware: 'BIOS only' }),
    }
    let draft = of('till 1cpu 1G 20G+5G on gannet net office')
    for (let rounds = 0; rounds < 6; rounds++) {
      const [first] = checkDevices(devicesOfDraft(guestOf(draft)), system).filter(({ mend }) => mend)
      if (first?.mend) draft = applyMend(draft, first.mend)
    }
    expect(checkDevices(devicesOfDraft(guestOf(draft)), system)).toEqual([])
    expect(draft.disks.map(({ bus }) => bus)).toEqual(['SATA', 'SATA'])
    expect(draft.texts['firmware']).toBe('BIOS')
  })

  it('a size that was worked out fills processors, memory, disks and adapters, and is remembered', () => {
    const profile = workloadsOf(estate).find(({ name }) => name === 'router')
    if (!profile) throw new Error('no profile')
    const sizing = sizeFor(undefined, profile, 'for the peak', 25)
    const draft = applySizing(of('gate 8cpu 1G net office'), sizing, 'router')
    expect(draft.texts).toMatchObject({ vcpu: '2', latency: 'steady', workload: 'router' })
    expect(draft.adapters.map(({ networkId }) => networkId)).toEqual([idOf('office'), ''])
    expect(guestOf(draft).guest.memoryMiB).toBe(sizing.memory.value)
  })
})
