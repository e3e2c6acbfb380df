import { Findings, minutesOf, recordTitle } from '@insel/core'
import { notAddingUp, renamesOf } from '@insel/core/testing'
import { describe, expect, it } from 'vitest'
import { demoEstate } from './demo-estate.js'
import { skerrySound } from './skerry-sound.js'

const estate = demoEstate()

describe('the demo estate', () => {
  it('has about six hosts and some 25 guests, three templates, one external machine, one nested host', () => {
    expect(estate.count('host')).toBe(6)
    expect(estate.all('guest').filter((guest) => guest.kind === 'machine').length).toBeGreaterThanOrEqual(25)
    expect(estate.all('guest').filter((guest) => guest.kind === 'template')).toHaveLength(3)
    expect(
      estate
        .all('guest')
        .filter((guest) => guest.kind === 'external')
        .map((guest) => guest.name),
    ).toEqual(['auk'])
    expect(estate.all('host').filter((host) => host.kind === 'nested')).toHaveLength(1)
    expect(estate.all('migration').map(({ state }) => state)).toEqual([
      ...Array<string>(5).fill('closed'),
      'verified',
      'rolled back',
      'copying',
    ])
  })

  it('was lived in over three months, up to yesterday: who did what when, in order, with plans carried out, a failure and a plan dropped', () => {
    const story = skerrySound('01890000-0000-7000-8000-000000000001', '01890000-0000-7000-8000-000000000002')
    const minutes = story.map(({ at: { daysAgo, minute } }) => minute - daysAgo * 1440)
    expect(minutes).toEqual(minutes.toSorted((a, b) => a - b))
    const days = story.map(({ at }) => at.daysAgo)
    expect([Math.max(...days), Math.min(...days)]).toEqual([92, 1])
    // No fortnight without anything, and the last week has changes of everybody.
    expect(days.slice(1).every((day, at) => (days[at] ?? 0) - day <= 14)).toBe(true)
    expect(new Set(story.filter(({ at }) => at.daysAgo <= 7).map(({ by }) => by)).size).toBe(3)
    expect(
      estate
        .all('plan')
        .map(({ state }) => state)
        .toSorted(),
    ).toEqual(['agreed', 'done', 'done', 'done', 'done', 'dropped', 'under way'])
    // What was timed says how long the next takes.
    const item = estate.all('item').find(({ title }) => title === 'Patch the studio guests')
    expect(item && minutesOf(estate, { ...item, minutes: null })).toEqual({ value: 62, basis: 'own items', from: 3 })
  })

  it('has no working that a reader could not add up himself', () => {
    const { count, wrong } = notAddingUp(estate)
    expect(count).toBeGreaterThan(200)
    expect(wrong).toEqual([])
  })

  it('has the real problems it is meant to show, and no others', () => {
    const found = Findings.of(estate, '2027-01-18')
      .list()
      .map((finding) => {
        const subject = estate.find(finding.subject.kind, finding.subject.id)
        return `${finding.severity} ${finding.ruleId} ${subject ? recordTitle(estate, finding.subject.kind, subject) : ''}`.trim()
      })
    expect(found.sort()).toMatchInlineSnapshot(`
      [
        "error adapter.network-not-on-host adapter 1 of transcode-3",
        "error address.in-dhcp-pool 10.61.40.120",
        "error attachment.not-carried backup on tern",
        "error guest.crossed-adapters sound-gate",
        "error guest.shared-identity queue-2",
        "error guest.shared-identity stream-edge-2",
        "error intent.not-met outside must reach role public",
        "error intent.not-met role lab must not reach office",
        "notice array.unsound fast of kittiwake",
        "notice guest.medium-attached metrics",
        "notice guest.no-backup build",
        "notice guest.no-backup trial-a",
        "notice guest.not-verified metrics",
        "notice host.fingerprint-missing puffin",
        "notice host.memory-modules tern",
        "notice host.one-management-uplink puffin",
        "warning guest.backup-on-its-host archive-db",
        "warning guest.backup-on-its-host newsroom",
        "warning guest.not-apart stream-edge-2",
        "warning host.lost-means-guests-lost fulmar",
        "warning host.lost-means-guests-lost gannet",
        "warning host.lost-means-guests-lost puffin",
        "warning host.lost-means-guests-lost tern",
        "warning host.memory-over-budget puffin",
        "warning sheet.step-failed step firmware on the build sheet of kittiwake",
        "warning sheet.step-failed step first boot on the copy sheet of relay-2",
        "warning snapshot.old after the schema change of newsroom",
        "warning snapshot.old before the spring release of newsroom",
        "warning store.thin-promise nvme-2",
        "warning store.thin-promise ssd-4",
        "warning template.not-generalised tpl-desktop",
      ]
    `)
  })
})

it('findings after whatever is renamed are what a full pass finds', () => {
  const estate = demoEstate()
  const before = Findings.of(estate, '2027-01-18')
  let renames = 0
  for (const { command, estate: renamed, difference } of renamesOf(estate)) {
    expect([command, before.after(renamed, difference).list()]).toEqual([command, Findings.of(renamed, '2027-01-18').list()])
    renames++
  }
  expect(renames).toBeGreaterThan(100)
})
