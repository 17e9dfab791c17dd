import { mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { verdictNames, verdictWords, type Verdict } from '@bichroma/core/aims'
import { heldStates } from '@bichroma/core/runs'
import type { Backup, DisplayListing, Need, Room, RolloutRow, RunSummary } from '@bichroma/contract'
import { BadInput, write } from '../io'
import type { Answer } from '../output'
import type { StudioClient } from './client'

/** Exit codes of commands that ask a studio, for whatever watches them. */
export const studioExit = { fine: 0, badInput: 2, outside: 3, unproven: 4, notDone: 5, noAnswer: 6 } as const
type Exit = (typeof studioExit)[keyof typeof studioExit]
export type StudioAnswer = Omit<Answer, 'exitCode'> & { readonly exitCode?: Exit }

/** What a verdict comes to for whatever watches. */
const exitOf = (verdict: Verdict): Exit =>
  verdict === 'outside'
    ? studioExit.outside
    : verdict === 'untold' || verdict === 'lapsed' || verdict === 'unproven'
      ? studioExit.unproven
      : studioExit.fine

const dayOf = (at: number | null) => (at === null ? 'never' : new Date(at).toISOString().slice(0, 10))

/** The one display of a name or a serial number. */
async function displayOf(client: StudioClient, name: string): Promise<DisplayListing> {
  const found = await client.list<DisplayListing>('/displays', { search: name.slice(0, 80) })
  const wanted = name.toLowerCase()
  const one = found.find((d) => d.name.toLowerCase() === wanted || d.serial.toLowerCase() === wanted)
  if (one) return one
  const near = found.slice(0, 3).map((d) => d.name)
  throw new BadInput(`There is no display “${name}” in use${near.length ? `; perhaps ${near.join(', ')}` : ''}.`)
}

async function roomOf(client: StudioClient, name: string | undefined): Promise<string | undefined> {
  if (name === undefined) return undefined
  const rooms = await client.get<Room[]>('/rooms')
  const room = rooms.find((r) => r.name.toLowerCase() === name.toLowerCase())
  if (!room) throw new BadInput(`There is no room “${name}”; rooms are ${rooms.map((r) => r.name).join(', ')}.`)
  return String(room.id)
}

const row = (d: DisplayListing) => [
  d.name,
  d.room,
  d.label ?? '–',
  verdictWords[d.verdict],
  d.judged ? d.judged.averageDeltaE.toFixed(2) : '–',
  dayOf(d.judged?.at ?? null),
  dayOf(d.dueAt),
]
const head = ['display', 'room', 'slot', 'verdict', 'average', 'read', 'due']

/** Displays with their verdicts; `failOn`: verdicts that an exit code tells of. */
export async function listDisplays(
  client: StudioClient,
  { room, verdict, search, failOn }: { room?: string; verdict?: string; search?: string; failOn: readonly Verdict[] },
): Promise<StudioAnswer> {
  const displays = await client.list<DisplayListing>('/displays', { room: await roomOf(client, room), verdict, search })
  const told = verdictNames.filter((v) => failOn.includes(v) && displays.some((d) => d.verdict === v))
  const counts = verdictNames
    .map((v) => [v, displays.filter((d) => d.verdict === v).length] as const)
    .filter(([, count]) => count)
  return {
    json: displays,
    text: displays.length
      ? [{ head, rows: displays.map(row) }, counts.map(([v, count]) => `${count} ${verdictWords[v]}`).join(', ')]
      : ['No display fits.'],
    // The worst one is told.
    exitCode: told.length ? (Math.min(...told.map(exitOf)) as Exit) : studioExit.fine,
  }
}

/** Whether one display can be trusted today. */
export async function verdictOf(client: StudioClient, name: string): Promise<StudioAnswer> {
  const display = await displayOf(client, name)
  return {
    json: display,
    text: [{ head, rows: [row(display)] }, ...(display.judged ? [display.judged.sentence] : [])],
    exitCode: exitOf(display.verdict),
  }
}

export async function listNeeds(client: StudioClient): Promise<StudioAnswer> {
  const needs = await client.list<Need>('/needs')
  return {
    json: needs,
    text: needs.length
      ? [{ head: ['display', 'needs', 'found'], rows: needs.map((n) => [n.displayName, n.kind, n.found ?? '–']) }]
      : ['Nothing needs anybody.'],
  }
}

/** What falls due, the soonest first. */
export async function listDue(
  client: StudioClient,
  { room, days }: { room?: string; days: number },
  now: number,
): Promise<StudioAnswer> {
  const displays = await client.list<DisplayListing>('/displays', { room: await roomOf(client, room), sort: 'due' })
  const until = now + days * 86_400_000
  const due = displays.filter((d) => d.dueState === 'overdue' || d.dueAt === null || d.dueAt <= until)
  return {
    json: due,
    text: due.length ? [{ head, rows: due.map(row) }] : [`Nothing is due within ${days} days.`],
  }
}

const hasEnded = ({ state }: RunSummary) => state !== 'queued' && !heldStates.includes(state)

/** How often a run is looked at, ms. */
const lookMs = 1000

/** Waits for a run's end. `minutes`: for so long at most. */
export async function waitForRun(
  client: StudioClient,
  id: number,
  { minutes, now, pause }: { minutes: number; now: () => number; pause: (ms: number) => Promise<void> },
): Promise<StudioAnswer> {
  const until = now() + minutes * 60_000
  for (;;) {
    const run = await client.get<RunSummary>(`/runs/${id}`)
    if (hasEnded(run)) return told(run)
    if (now() >= until) {
      const waits = run.state === 'waiting' ? `; it waits: ${run.message ?? 'for somebody'}` : ''
      return {
        json: run,
        text: [`Run ${id} has not ended after ${minutes} minutes${waits}.`],
        exitCode: studioExit.notDone,
      }
    }
    await pause(lookMs)
  }
}

/** A run that has ended. */
function told(run: RunSummary): StudioAnswer {
  const facts = {
    head: ['', ''],
    rows: [
      ['run', String(run.id)],
      ['display', `${run.displayName}, slot ${run.slot}`],
      ['state', run.state],
      ...(run.judged
        ? [
            ['verdict', verdictWords[run.judged.verdict]],
            ['average ΔE2000', run.judged.averageDeltaE.toFixed(2)],
            ['worst', `${run.judged.worstDeltaE.toFixed(2)}, ${run.judged.worstPatch}`],
          ]
        : []),
    ],
  }
  const isDone = run.state === 'done'
  return {
    json: run,
    text: [facts, ...(run.message ? [run.message] : [])],
    exitCode: !isDone ? studioExit.notDone : run.judged ? exitOf(run.judged.verdict) : studioExit.fine,
  }
}

/** Starts a check run on a display; gives its number. */
export async function startCheck(
  client: StudioClient,
  name: string,
  { slot, begins }: { slot?: number; begins: 'now' | 'turn' | 'night' },
): Promise<number> {
  const display = await displayOf(client, name)
  const { id } = await client.post<{ id: number }>('/runs', {
    ...{ displayId: display.id, kind: 'check', slot: slot ?? display.slot, begins },
  })
  return id
}

/** Places the profile that is wanted on a display. */
export async function place(client: StudioClient, name: string): Promise<StudioAnswer> {
  const display = await displayOf(client, name)
  const rows = await client.list<RolloutRow>('/rollout', { search: display.name })
  const runId = rows.find((r) => r.displayId === display.id)?.wanted?.runId ?? null
  if (runId === null)
    throw new BadInput(`No profile is wanted on ${display.name}: its slot has none yet, or its policy asks for none.`)
  const { id } = await client.post<{ id: number }>('/placements', { runId })
  return {
    json: { id, runId },
    text: [`The profile of run ${runId} is on its way to ${display.workstation}.`],
  }
}

/** Fetches the profile that is wanted on every display into a folder. */
export async function fetchProfiles(
  client: StudioClient,
  folder: string,
  { room }: { room?: string },
): Promise<StudioAnswer> {
  const all = await client.list<RolloutRow>('/rollout', { room: await roomOf(client, room) })
  const rows = all.flatMap(({ displayName, wanted }) =>
    wanted?.runId ? [{ displayName, runId: wanted.runId, slot: wanted.slot }] : [],
  )
  mkdirSync(folder, { recursive: true })
  const files: { display: string; file: string; bytes: number }[] = []
  for (const { displayName, runId, slot } of rows) {
    const bytes = await client.bytes(`/runs/${runId}/profile`)
    // Names of displays may hold what no file name may.
    const file = join(folder, `${displayName.replace(/[^\p{L}\p{N} ._-]/gu, '_')}, slot ${slot}.icc`)
    write(file, bytes)
    files.push({ display: displayName, file, bytes: bytes.length })
  }
  return {
    json: files,
    text: files.length
      ? [{ head: ['display', 'file', 'bytes'], rows: files.map((f) => [f.display, f.file, String(f.bytes)]) }]
      : ['No display has a profile yet.'],
  }
}

const fleetForms = ['html', 'pdf', 'csv']

/** Writes the fleet's report, a run's report, or the inventory to a file; its ending says the form. */
export async function exportTo(
  client: StudioClient,
  what: 'fleet' | 'inventory' | 'run',
  path: string,
  { run, day }: { run?: number; day?: string },
): Promise<StudioAnswer> {
  const form = path.split('.').at(-1)!.toLowerCase()
  if (what === 'fleet' && !fleetForms.includes(form))
    throw new BadInput(`${path}: the fleet’s report is written as ${fleetForms.join(', ')}.`)
  if (what === 'run' && run === undefined) throw new BadInput('Say which run: --run 12.')
  const from = {
    fleet: `/reports/fleet?as=${form}${day ? `&on=${encodeURIComponent(day)}` : ''}`,
    inventory: '/inventory',
    run: `/runs/${run}/report?as=${encodeURIComponent(form)}`,
  }[what]
  const bytes = await client.bytes(from)
  write(path, bytes)
  return { json: { file: path, bytes: bytes.length }, text: [`${path}, ${bytes.length.toLocaleString('en')} bytes.`] }
}

export async function makeBackup(client: StudioClient): Promise<StudioAnswer> {
  const backup = await client.post<Backup>('/backups')
  return { json: backup, text: [`${backup.name}, ${backup.bytes.toLocaleString('en')} bytes, looked through.`] }
}
