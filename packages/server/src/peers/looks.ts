import type { DataSource } from 'typeorm'
import { goesOn, runStates, type RunState } from '@bichroma/core/runs'
import type { PeerLook, PeerRunKind, StartedPeerRuns, StartPeerRuns, StartRun } from '@bichroma/contract'
import { aimEntity } from '../aims/entities'
import { atomically, insertion, written } from '../data/atomically'
import { patiently } from '../data/patiently'
import { WorkedOff } from '../data/workedOff'
import { Refusal } from '../http/problem'
import type { Ledger } from '../ledger/ledger'
import { peerLookEntity, type PeerLookRow, type PeerSetRow } from './entities'
import type { PeerKeeper } from './keeper'
import { membersOf } from './gatherSet'

interface LookServices {
  readonly data: DataSource
  readonly ledger: Ledger
  readonly keeper: PeerKeeper
  readonly now: () => number
  readonly startRun: (input: StartRun, who: { id: number; name: string }) => Promise<number>
  readonly changed: () => void
}

/** Wall time until what failed is tried again, ms. */
const againMs = 15_000
/** Looks that a set tells of. */
const newestLooks = 12
const ended = runStates.filter((s) => !goesOn(s))

/** Runs of all members of a set together, and the one verdict at their end. */
export class PeerLooks {
  private readonly following = new WorkedOff('Looks of peer sets follow their runs', () => this.work(), { againMs })
  /** Looks whose runs are being started: not all of them are known yet. */
  private readonly starting = new Set<number>()

  constructor(private readonly services: LookServices) {}

  /**
   * Puts a run of each member that is in use into the queue. What one is refused for does not keep the others; throws
   * Refusal where none can be started.
   */
  async start(set: PeerSetRow, asked: StartPeerRuns, who: { id: number; name: string }): Promise<StartedPeerRuns> {
    const { data, startRun, changed } = this.services
    if (asked.kind === 'full' && set.aimId === null)
      throw new Refusal('conflict', `${set.name} has no aim yet. Adopt its common ground first.`, 'kind')
    const members = (await membersOf(data, set.id)).filter((m) => m.kept === 'in use')
    if (!members.length) throw new Refusal('conflict', `No member of ${set.name} is in use.`)
    const [anyAim] = await data.getRepository(aimEntity).find({ order: { id: 'ASC' }, take: 1 })
    const id = this.begin(set, asked, members.length, who)
    this.starting.add(id)
    const started: StartedPeerRuns['started'] = []
    const refused: StartedPeerRuns['refused'] = []
    try {
      for (const { displayId, slot, name, label, eyeAimId } of members) {
        const holds = asked.holds?.find((h) => h.displayId === displayId)?.label ?? ''
        const input: StartRun = {
          ...{ displayId, slot, kind: asked.kind, begins: 'turn' },
          ...(asked.kind === 'full' && { aimId: eyeAimId ?? set.aimId!, overwrites: holds }),
          // Whatever its slot holds, it is judged by; one that is empty needs an aim to be looked at with.
          ...(asked.kind === 'baseline' && !label && anyAim && { aimId: anyAim.id }),
          ...(asked.instrumentId !== undefined && { instrumentId: asked.instrumentId, onlyWith: true }),
        }
        try {
          const runId = await startRun(input, who)
          started.push({ displayId, runId })
          atomically(data, (take) =>
            take(written('INSERT INTO peer_look_run (look_id, run_id) VALUES (?, ?)', [id, runId])),
          )
        } catch (error) {
          if (!(error instanceof Refusal)) throw error
          refused.push({ displayId, name, why: error.message })
        }
      }
    } finally {
      this.starting.delete(id)
      if (!started.length) await this.breakOff(id)
      changed()
    }
    if (!started.length) throw new Refusal('conflict', `${refused[0].name}: ${refused[0].why}`)
    void this.soon()
    return { id, started, refused }
  }

  /** The look that runs are started for; one at a time, as the store knows. */
  private begin(set: PeerSetRow, { kind }: StartPeerRuns, members: number, who: { id: number; name: string }): number {
    const { data, ledger, now } = this.services
    try {
      return ledger.change(
        who,
        (take) =>
          take(
            insertion(data.manager, peerLookEntity, {
              ...{ setId: set.id, kind, startedAt: now(), by: who.name, state: 'under way' },
              ...{ endedAt: null, verdict: null, furthest: null },
            }),
          ),
        () => ({
          ...{ act: 'started', thing: 'peer set', id: set.id, name: set.name },
          evidence: { runs: kind, members },
        }),
      )
    } catch (error) {
      if (!(error as Error).message.includes('peer_look.set_id')) throw error
      throw new Refusal('conflict', `Runs of ${set.name} are under way already. Wait for them, or stop them first.`)
    }
  }

  /** After a restart: a look for which no run was started any more ends here. */
  async takeStock(): Promise<void> {
    await this.services.data.query(
      `UPDATE peer_look SET state = 'broken off', ended_at = ?
       WHERE state = 'under way' AND NOT EXISTS (SELECT 1 FROM peer_look_run WHERE look_id = peer_look.id)`,
      [this.services.now()],
    )
    await this.soon()
  }

  private async breakOff(id: number): Promise<void> {
    const change = { state: 'broken off' as const, endedAt: this.services.now() }
    await this.services.data.getRepository(peerLookEntity).update({ id }, change)
  }

  /** A run stands otherwise, or the server has begun: looks whose runs have all ended are judged; what fails is tried again. */
  soon(): Promise<void> {
    return this.following.soon()
  }

  close = (): Promise<void> => this.following.close()

  private async work(): Promise<void> {
    const { data, keeper, now, changed } = this.services
    const found = await data.query<
      { id: number; setId: number; kind: PeerRunKind; done: number; all: number; members: number }[]
    >(
      `SELECT peer_look.id AS id, set_id AS setId, peer_look.kind AS kind, COUNT(run.id) AS "all", SUM(run.state = 'done') AS done,
         (SELECT COUNT(*) FROM peer_member JOIN display ON display.id = display_id
          WHERE peer_member.set_id = peer_look.set_id AND kept = 'in use') AS members
       FROM peer_look JOIN peer_look_run ON look_id = peer_look.id JOIN run ON run.id = run_id
       WHERE peer_look.state = 'under way' GROUP BY peer_look.id
       HAVING SUM(run.state IN (${ended.map(() => '?').join(', ')})) = COUNT(*)`,
      ended,
    )
    const over = found.filter(({ id }) => !this.starting.has(id))
    if (!over.length) return
    for (const { id, setId, kind, done, all, members } of over) {
      // The verdict rests on what the runs read; what could not be worked out yet is none.
      await keeper.bring(setId)
      const [{ due }] = await data.query<[{ due: number }]>('SELECT due FROM peer_set WHERE id = ?', [setId])
      if (due > 0) {
        this.following.later()
        continue
      }
      const whole = done === all && all >= members
      const tells = Number(whole && kind !== 'baseline')
      const state = whole ? 'judged' : 'broken off'
      await patiently(() =>
        atomically(data, (take) =>
          take(
            written(
              `UPDATE peer_look SET state = ?, ended_at = ?,
                 verdict = CASE WHEN ? THEN (SELECT verdict FROM peer_set WHERE id = ?) END,
                 furthest = CASE WHEN ? THEN (SELECT furthest FROM peer_set WHERE id = ?) END
               WHERE id = ? AND state = 'under way'`,
              [state, now(), tells, setId, tells, setId, id],
            ),
          ),
        ),
      )
    }
    changed()
  }

  /** The newest looks of a set, with their runs. */
  async of(setId: number): Promise<PeerLook[]> {
    const { data } = this.services
    const looks: PeerLookRow[] = await data
      .getRepository(peerLookEntity)
      .find({ where: { setId }, order: { id: 'DESC' }, take: newestLooks })
    const runs = await data.query<{ lookId: number; displayId: number; runId: number; state: RunState }[]>(
      `SELECT look_id AS lookId, run.display_id AS displayId, run.id AS runId, run.state AS state
       FROM peer_look_run JOIN run ON run.id = run_id
       WHERE look_id IN (${looks.map(() => '?').join(', ')}) ORDER BY peer_look_run.id`,
      looks.map((l) => l.id),
    )
    return looks.map(({ setId: _set, ...look }) => ({
      ...look,
      runs: runs
        .filter((r) => r.lookId === look.id)
        .map(({ displayId, runId, state }) => ({ displayId, runId, state })),
    }))
  }
}
