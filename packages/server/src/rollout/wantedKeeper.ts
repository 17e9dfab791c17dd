import type { DataSource } from 'typeorm'
import { wantedOf, type FiledProfile, type HeldPolicy, type Rules } from '@bichroma/core/rollout'
import { atomically, insertion, written, type Take } from '../data/atomically'
import { patiently } from '../data/patiently'
import { WorkedOff } from '../data/workedOff'
import { wantedEntity, type WantedRow } from './entities'
import { policiesNow, type PolicyBook } from './policies'

/** Displays that are worked out in one go, so that others are answered in between. */
const blockOf = 25

interface KnownRow {
  displayId: number
  roomId: number
  aimId: number | null
  shownSlot: number
  agreedSlot: number | null
  asked: number
  wantedId: number | null
}

/** What a policy asks for on a display anew, and what it asked for before. */
export interface WantedNews {
  readonly displayId: number
  readonly held: HeldPolicy
  readonly before: WantedRow | null
  readonly now: Omit<WantedRow, 'id'>
  /** It changed by what is known of the display, and not by what somebody decided. */
  readonly byFacts: boolean
}

/** Keeps what policies ask for: worked out anew for every display of which something changed that they look at. */
export class WantedKeeper {
  private readonly working = new WorkedOff('What policies ask for was worked out', () => this.work(), { gatherMs: 20 })

  constructor(
    private readonly data: DataSource,
    private readonly now: () => number,
    /** What follows from new wants, as statements of the same transaction. */
    private readonly follows: (news: readonly WantedNews[]) => Promise<(take: Take) => void>,
    private readonly changed: (displays: readonly number[]) => void,
  ) {}

  /** Works off what is due, after whatever is being worked off; what fails stays due. */
  catchUp = (): Promise<void> => this.working.soon()

  /** Does so in a moment, once for all that changed until then. */
  soon(): void {
    this.working.inAMoment()
  }

  close = (): Promise<void> => this.working.close()

  private async work(): Promise<void> {
    let book: PolicyBook | null = null
    for (;;) {
      const rows = await this.data.query<KnownRow[]>(
        `SELECT display.id AS displayId, room_id AS roomId, aim.id AS aimId, active_slot AS shownSlot, asked,
           (SELECT slot FROM placement WHERE placement.id = (SELECT MAX(id) FROM placement AS open
              WHERE open.display_id = display.id AND open.workstation_id = display.workstation_id AND open.state <> 'withdrawn')) AS agreedSlot,
           (SELECT MAX(id) FROM wanted WHERE wanted.display_id = display.id) AS wantedId
         FROM wanted_due JOIN display ON display.id = wanted_due.display_id JOIN workstation ON workstation.id = workstation_id
           LEFT JOIN slot ON slot.display_id = display.id AND slot.number = active_slot
           LEFT JOIN aim ON aim.name = slot.label
         ORDER BY wanted_due.display_id LIMIT ${blockOf}`,
      )
      if (!rows.length || this.working.closed) return
      book ??= await policiesNow(this.data)
      await this.workOut(rows, book)
      await new Promise((resolve) => setImmediate(resolve))
    }
  }

  private async workOut(rows: readonly KnownRow[], book: PolicyBook): Promise<void> {
    const ids = JSON.stringify(rows.map((r) => r.displayId))
    const filed = await this.data.query<(FiledProfile & { displayId: number })[]>(
      `SELECT displayId, slot, runId, hash FROM (SELECT display_id AS displayId, slot, id AS runId, profile_hash AS hash,
           ROW_NUMBER() OVER (PARTITION BY display_id, slot ORDER BY started_at DESC, id DESC) AS place
         FROM run WHERE display_id IN (SELECT value FROM json_each(?)) AND profile_hash IS NOT NULL AND +state = 'done'
           AND withdrawn_at IS NULL AND taken_back_at IS NULL) WHERE place = 1`,
      [ids],
    )
    const filedBy = new Map<number, FiledProfile[]>()
    for (const { displayId, ...profile } of filed) filedBy.set(displayId, [...(filedBy.get(displayId) ?? []), profile])
    const formerIds = rows.flatMap((r) => (r.wantedId === null ? [] : [r.wantedId]))
    const former = new Map(
      (formerIds.length
        ? await this.data
            .getRepository(wantedEntity)
            .createQueryBuilder('w')
            .where('w.id IN (SELECT value FROM json_each(:ids))', { ids: JSON.stringify(formerIds) })
            .getMany()
        : []
      ).map((w) => [w.displayId, w]),
    )
    const news: WantedNews[] = []
    for (const { displayId, roomId, aimId, shownSlot, agreedSlot } of rows) {
      const held = book({ display: displayId, room: roomId, aim: aimId })
      const wanted = wantedOf(held.rules, { shownSlot, agreedSlot, filed: filedBy.get(displayId) ?? [] })
      const before = former.get(displayId) ?? null
      // A slot that somebody switched to is a fact, also where a policy was changed in the same moment.
      const switched =
        before !== null && wantsShown(before.rules) && wantsShown(held.rules) && before.slot !== shownSlot
      const now = {
        displayId,
        kind: wanted.kind,
        slot: wanted.kind === 'none' ? null : wanted.slot,
        runId: wanted.kind === 'profile' ? wanted.runId : null,
        profileHash: wanted.kind === 'profile' ? wanted.hash : null,
        rules: held.rules,
        origins: { ...held.origins },
        since: this.now(),
        gathered: false,
      }
      if (before && sameWant(before, now) && sameRules(before, now)) continue
      const same = before !== null && sameWant(before, now)
      news.push({
        displayId,
        held,
        before,
        now: same ? { ...now, since: before.since, gathered: before.gathered } : now,
        byFacts: before !== null && !same && (switched || sameChoice(before.rules, held.rules)),
      })
    }
    const follow = await this.follows(news)
    await patiently(() =>
      atomically(this.data, (take) => {
        for (const { now } of news) take(insertion(this.data.manager, wantedEntity, now))
        follow(take)
        for (const { displayId, asked } of rows)
          take(written('DELETE FROM wanted_due WHERE display_id = ? AND asked = ?', [displayId, asked]))
      }),
    )
    if (news.length) this.changed(news.map((n) => n.displayId))
  }
}

/** Whether what is wanted is always of the slot that is shown. */
const wantsShown = ({ profile, whenSwitched }: Rules) => profile === 'shown' && whenSwitched !== 'switch back'

type Want = Pick<WantedRow, 'kind' | 'slot' | 'runId' | 'profileHash'>
const sameWant = (a: Want, b: Want) =>
  a.kind === b.kind && a.slot === b.slot && a.runId === b.runId && a.profileHash === b.profileHash
const sameRules = (a: Pick<WantedRow, 'rules' | 'origins'>, b: Pick<WantedRow, 'rules' | 'origins'>) =>
  JSON.stringify([a.rules, a.origins]) === JSON.stringify([b.rules, b.origins])
/** The rules that say which profile it is. */
const sameChoice = (a: Rules, b: Rules) => a.profile === b.profile && a.whenSwitched === b.whenSwitched
