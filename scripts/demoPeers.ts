import { roundedLight, usualPeerLimits } from '@bichroma/core/peers'
import type { Page, PeerSetDetail, Ring, RunDetail, StartedPeerRuns } from '@bichroma/contract'
import type { DemoWork, Making } from './demoMaking'
import { demoPeers, demoRing } from './demoStudio'
import { until, wait } from './waiting'

async function makePeerSet(
  { client, displayIds }: Making,
  { name, members, standard }: (typeof demoPeers)[number],
): Promise<number> {
  const { id } = await client.post<{ id: number }>('/peer-sets', {
    name,
    members: members.map(([display, slot]) => ({ displayId: displayIds[display], slot })),
    ...{ reference: null, white: { kind: 'standard', name: 'D65' }, toneResponse: { kind: 'power', exponent: 2.2 } },
    ...{ standard, share: 0.97, headroom: 0.03, black: 'own', limits: usualPeerLimits },
  })
  return id
}

/** Members are read at their brightest, and brought to what they have in common, one after another. */
export async function bringTogether(
  making: Making,
  { visit, here, throughRun, idOfInstrument }: DemoWork,
  set: (typeof demoPeers)[number],
): Promise<void> {
  const { client, displayIds, workstationOf, say } = making
  const { name, members, instrument, standard, daysAgo } = set
  const id = await makePeerSet(making, set)
  if (daysAgo === null) return
  for (const [display, slot] of members)
    await visit({ daysAgo, display, kind: 'baseline', slot, aim: 'Atlas web' }, instrument)
  const setNow = () => client.get<PeerSetDetail>(`/peer-sets/${id}`)
  await until(
    async () => (await setNow()).standing?.ground !== null && !(await setNow()).working,
    `${name} has a ground`,
  )
  const luminance = roundedLight((await setNow()).standing!.ground!.luminance)
  await client.post(`/peer-sets/${id}/aim`, { luminance })
  const { started, refused } = await client.post<StartedPeerRuns>(`/peer-sets/${id}/runs`, {
    kind: 'full',
    instrumentId: await idOfInstrument(instrument),
  })
  if (refused.length) throw new Error(`${refused[0].name}: ${refused[0].why}`)
  const waiting = new Map(started.map((r) => [r.runId, members.find(([m]) => displayIds[m] === r.displayId)![0]]))
  // Those first where the instrument lies already; then it goes round.
  let at = workstationOf[members[members.length - 1][0]]
  while (waiting.size) {
    const [runId, display] = [...waiting].find(([, d]) => workstationOf[d] === at) ?? [...waiting][0]
    at = workstationOf[display]
    await here(instrument, at)
    await until(async () => (await client.get<RunDetail>(`/runs/${runId}`)).state !== 'queued', `run ${runId} begins`)
    await throughRun(runId, display, instrument)
    waiting.delete(runId)
  }
  await until(async () => (await setNow()).looks[0].state !== 'under way', `the runs of ${name} have ended`)
  if (set.eye) await matchByEye(making, { throughRun, here, idOfInstrument }, id, set)
  const { standing } = await setNow()
  say(
    `peer set “${name}” is ${standing?.alike?.verdict.verdict} at ${luminance} cd/m², ${standing?.ground?.standard ?? standard + ' not covered'}`,
  )
}

/** A member that measures alike and does not look it gets a white of its own, and is calibrated to it. */
async function matchByEye(
  { client, displayIds, workstationOf }: Making,
  { throughRun, here, idOfInstrument }: Pick<DemoWork, 'throughRun' | 'here' | 'idOfInstrument'>,
  setId: number,
  { eye, members, instrument }: (typeof demoPeers)[number],
): Promise<void> {
  const { display, beside, ends } = eye!
  const displayId = displayIds[display]
  await client.post(`/peer-sets/${setId}/matches`, {
    ...{ displayId, besideId: displayIds[beside] },
    repeats: ends.map(([u, v], side) => ({ side, u, v })),
  })
  const { matches, members: now } = await client.get<PeerSetDetail>(`/peer-sets/${setId}`)
  const instrumentId = await idOfInstrument(instrument)
  await here(instrument, workstationOf[display])
  const { id } = await client.post<{ id: number }>('/runs', {
    ...{
      displayId,
      slot: members.find(([m]) => m === display)![1],
      kind: 'full',
      aimId: matches[0].aim!.id,
      instrumentId,
    },
    overwrites: now.find((m) => m.displayId === displayId)!.label,
  })
  await throughRun(id, display, instrument)
  await until(async () => !(await client.get<PeerSetDetail>(`/peer-sets/${setId}`)).working, 'the match is worked out')
}

/** The colorimeters read the same displays, one after another. */
export async function layRing(
  { client, displayIds, workstationOf }: Making,
  { here, throughRun, idOfInstrument }: DemoWork,
): Promise<void> {
  const ids = new Map<number, string>()
  for (const serial of demoRing.instruments) ids.set(await idOfInstrument(serial), serial)
  const names = new Map(demoRing.displays.map((d) => [displayIds[d], d]))
  await client.post('/rings', {
    ...{ instruments: [...ids.keys()], displays: [...names.keys()], reference: null, wanted: 0.002 },
  })
  const now = async () => (await client.get<Page<Ring>>('/rings')).items[0]
  for (let at = await now(); at.state === 'under way'; at = await now()) {
    const step = at.steps.find((s) => s.runState !== 'done')
    if (!step?.runId) {
      await wait(5)
      continue
    }
    const [display, instrument] = [names.get(step.displayId)!, ids.get(step.instrumentId)!]
    await here(instrument, workstationOf[display])
    await until(
      async () => (await client.get<RunDetail>(`/runs/${step.runId}`)).state !== 'queued',
      `run ${step.runId} begins`,
    )
    await throughRun(step.runId, display, instrument)
    // The next step follows from the end of this one.
    await until(async () => {
      const { state, steps } = await now()
      return state !== 'under way' || steps[step.seq].runState === 'done'
    }, 'the ring goes on')
  }
  const { state, says } = await now()
  if (state !== 'done') throw new Error(`The ring was broken off: ${says}`)
}
