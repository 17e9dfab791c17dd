import type { WaveDetail, WavePreview } from '@bichroma/contract'
import type { AskBench, Making } from './demoMaking'
import { until } from './waiting'

/** What rollout has to tell today: a policy or two, a wave that is done but for who has not signed out, and what is astray. */
export async function rollOut(
  { client, server, workstationOf, serialOf, displayIds, roomIds, aimIds, say }: Making,
  bench: AskBench,
): Promise<void> {
  for (const policy of [
    { level: 'studio', rules: { whenOther: 'put back once', fresh: 'gathered' } },
    { level: 'room', of: roomIds['Plate Room'], rules: { fresh: 'by a person', whenOther: 'tell' } },
    { level: 'room', of: roomIds['Lantern Hall'], rules: { whenOther: 'tell' } },
    { level: 'aim', of: aimIds['Atlas web'], rules: { keepOld: 1, programs: 'set' } },
    { level: 'display', of: displayIds['Dome 4'], rules: { whenSwitched: 'switch back' } },
  ])
    await client.put('/policies', policy)
  const settled = async () => {
    for (let n = 0; n < 4; n++) await server.schedule.look(0)
  }
  await settled()
  const selection = {
    rooms: Object.entries(roomIds).flatMap(([name, id]) => (name === 'Plate Room' ? [] : [id])),
    differs: true,
  }
  const { digest } = await client.post<WavePreview>('/waves/preview', { selection })
  const name = 'Profiles of the autumn'
  const { id } = await client.post<{ id: number }>('/waves', {
    ...{ name, selection, digest, first: 3, gate: 'read-back', stopShare: 0.2, days: 14 },
  })
  await until(
    async () => (await client.get<WaveDetail>(`/waves/${id}`)).counts['held back'] === 0,
    'the wave holds nothing back',
  )
  await settled()
  await bench('/faults/signOut', { workstation: workstationOf['Sedge 4'] })
  const lantern = { workstation: workstationOf['Lantern 5'], display: serialOf['Lantern 5'] }
  await bench('/faults/replaceProfile', { ...lantern, by: 'Glint Arcade' })
  await bench('/faults/buttons', { display: serialOf['Diorama 1'], slot: 2 })
  await settled()
  say(`wave “${name}” has gone out`)
}
