import type { DataSource } from 'typeorm'
import type { Aim, ResolvedAim } from '@bichroma/core/aims'
import { deltaUv, type Chromaticity, type Triple, type UvPrime } from '@bichroma/core/color'
import { matchedOffset, matchShare, matchSignal, settleMatch } from '@bichroma/core/peers'
import { keepMatchSchema, showMatchSchema, validate, type PeerMatch } from '@bichroma/contract'
import { aimEntity } from '../aims/entities'
import type { CourierHub } from '../couriers/hub'
import { orRefusal } from '../couriers/orRefusal'
import { changesMade, insertion, written, type Take } from '../data/atomically'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import { refusingTaken } from '../http/taken'
import { changesBetween, type Ledger } from '../ledger/ledger'
import type { Holds } from '../register/holds'
import { slotEntity } from '../register/entities'
import { peerMatchEntity, type PeerMatchRow, type PeerSetRow } from './entities'
import { membersOf, shownMember } from './gatherSet'
import type { PeerKeeper } from './keeper'
import { peerSetOf } from './peerSetOf'

interface MatchServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly holds: Holds
  readonly ledger: Ledger
  readonly keeper: PeerKeeper
  readonly now: () => number
  readonly changed: () => void
  readonly aimsChanged: () => void
}

type Member = Awaited<ReturnType<typeof membersOf>>[number]
interface Pair {
  readonly one: Member
  readonly beside: Member
}

/** Matches of a set that are told, those that have ended among them. */
const newest = 12
/** Repetitions further apart than this are not the same sight: nothing is kept of them, Δu′v′. */
const mostScatter = 0.01

/** Members whose whites were matched by eye: patches while it is done, what is kept of it, and the aims that follow. */
export class PeerMatches {
  constructor(private readonly services: MatchServices) {}

  routes(api: Api): void {
    const { data, ledger, keeper, now, changed, aimsChanged } = this.services
    api.on('POST /peer-sets/:id/match', async (request) => {
      const { displayId, besideId, u, v } = validate(showMatchSchema, request.body)
      const set = await peerSetOf(data, idOf(request))
      await this.show(await this.pairOf(set, displayId, besideId), { u, v })
      return {}
    })
    api.on('POST /peer-sets/:id/matches', async (request, response) => {
      const { displayId, besideId, repeats } = validate(keepMatchSchema, request.body)
      const set = await peerSetOf(data, idOf(request))
      const pair = await this.pairOf(set, displayId, besideId)
      const settled = settleMatch(repeats)
      if (settled.scatter > mostScatter)
        throw new Refusal(
          'conflict',
          `The repetitions lie ${settled.scatter.toFixed(4)} apart in u′v′; beyond ${mostScatter} they tell nothing. Make them again, both lit alike and looked at from the front.`,
          'repeats',
        )
      const offset = matchedOffset(settled, await this.whiteOf(pair.one), await this.whiteOf(pair.beside))
      const before = await data
        .getRepository(peerMatchEntity)
        .findOneBy({ setId: set.id, displayId, state: 'in force' })
      const base = set.aimId === null ? null : await data.getRepository(aimEntity).findOneBy({ id: set.aimId })
      const name = await this.freeName(set, pair.one, before)
      const by = request.account.name
      const id = await refusingTaken('aim', () =>
        ledger.change(
          request.account,
          (take) => {
            // Whichever it is by now: somebody else may have matched it meanwhile.
            take(
              written(
                `UPDATE peer_match SET state = 'ended' WHERE set_id = ? AND display_id = ? AND state = 'in force'`,
                [set.id, displayId],
              ),
            )
            const made = take(
              insertion(data.manager, peerMatchEntity, {
                ...{ setId: set.id, displayId, besideId, at: Math.round(now()), by, repeats, settled },
                ...{ u: offset.u, v: offset.v, state: 'in force', aimId: before?.aimId ?? null },
              }),
            )
            if (base) this.writeAim(take, { id: made, aimId: before?.aimId ?? null, ...offset }, base.aim, name)
            take(written('UPDATE peer_set SET due = due + 1 WHERE id = ?', [set.id]))
            return made
          },
          () => ({
            ...{ act: 'changed', thing: 'peer set', id: set.id, name: set.name },
            changes: changesBetween(
              { [`${pair.one.name} by eye`]: before && shownOffset(before) },
              { [`${pair.one.name} by eye`]: shownOffset(offset) },
            ),
            evidence: { beside: pair.beside.name, repeats: repeats.length, scatter: settled.scatter.toFixed(4) },
          }),
        ),
      )
      await keeper.bring(set.id)
      changed()
      if (base) aimsChanged()
      response.status(201)
      return { id }
    })
    api.on('DELETE /peer-matches/:id', async (request) => {
      const row = await data.getRepository(peerMatchEntity).findOneBy({ id: idOf(request) })
      if (!row) throw new Refusal('not-found', `There is no match ${idOf(request)}.`)
      const already = new Refusal('conflict', 'This match has been taken back already.')
      if (row.state === 'ended') throw already
      const set = await peerSetOf(data, row.setId)
      const member = (await membersOf(data, set.id)).find((m) => m.displayId === row.displayId)
      ledger.change(
        request.account,
        (take) => {
          take(written(`UPDATE peer_match SET state = 'ended' WHERE id = ? AND state <> 'ended'`, [row.id]))
          if (changesMade(data) === 0) throw already
          take(written('UPDATE peer_set SET due = due + 1 WHERE id = ?', [set.id]))
        },
        () => ({
          ...{ act: 'changed', thing: 'peer set', id: set.id, name: set.name },
          changes: [{ field: `${member?.name ?? `display ${row.displayId}`} by eye`, from: shownOffset(row) }],
        }),
      )
      await keeper.bring(set.id)
      changed()
      return {}
    })
  }

  private async pairOf(set: PeerSetRow, displayId: number, besideId: number): Promise<Pair> {
    const members = await membersOf(this.services.data, set.id)
    const of = (id: number, name: string, field: string): Member => {
      const found = members.find((m) => m.displayId === id)
      if (!found) throw new Refusal('invalid-input', `“${name}” must be a member of ${set.name}.`, field)
      if (found.kept !== 'in use') throw new Refusal('conflict', `${found.name} is ${found.kept}.`, field)
      return found
    }
    return { one: of(displayId, 'Display', 'displayId'), beside: of(besideId, 'Beside', 'besideId') }
  }

  /** What a member's slot was calibrated to. Throws Refusal for one that holds nothing. */
  private async aimOf({ displayId, slot, name }: Member): Promise<ResolvedAim> {
    const row = await this.services.data.getRepository(slotEntity).findOneBy({ displayId, number: slot })
    if (!row?.resolvedAim)
      throw new Refusal(
        'conflict',
        `Slot ${slot} of ${name} holds nothing yet. Calibrate it before it is matched by eye.`,
      )
    return row.resolvedAim
  }

  /** The white that a member measured last, and where it never was, its aim's. */
  private async whiteOf(member: Member): Promise<Chromaticity> {
    const judged = shownMember(member).judged?.white
    if (judged) return judged
    const { white } = await this.aimOf(member)
    const sum = white[0] + white[1] + white[2]
    return { x: white[0] / sum, y: white[1] / sum }
  }

  /** Both whites at one luminance, the one's moved. */
  private async show({ one, beside }: Pair, nudge: UvPrime): Promise<void> {
    const [own, other] = [await this.aimOf(one), await this.aimOf(beside)]
    const luminance = matchShare * Math.min(own.white[1], other.white[1])
    const signal = (aim: ResolvedAim, by: UvPrime, of: Member): Triple => {
      try {
        return matchSignal(aim, by, luminance)
      } catch (error) {
        if (!(error instanceof RangeError)) throw error
        throw new Refusal('conflict', `${of.name} has no white further this way: one of its channels ends there.`, 'u')
      }
    }
    const [moved, still] = [signal(own, nudge, one), signal(other, { u: 0, v: 0 }, beside)]
    await Promise.all([this.patch(beside, still), this.patch(one, moved)])
  }

  /** Shows a patch over all of a member's screen, through its slot. Throws Refusal with what stands in the way. */
  private async patch({ displayId, name, serial, slot, workstationId }: Member, rgb: Triple): Promise<void> {
    const { hub, holds } = this.services
    const inRun = { sentence: `${name} is in a run, which shows patches on it. Wait for it, or stop it first.` }
    await orRefusal(`The courier of ${name} is away. Start it, then try again.`, () =>
      holds.besideRuns({ displayId }, inRun, async () => {
        const { value } = await hub.send(workstationId, 'display.getControls', { serial })
        if (value.activeSlot !== slot || value.pipeline !== 'slot')
          throw new Refusal(
            'conflict',
            `${name} shows slot ${value.activeSlot}, and belongs to this set by slot ${slot}. Switch it to that one first.`,
          )
        await hub.send(workstationId, 'display.showPatch', { serial, rgb: [...rgb], area: 1 })
      }),
    )
  }

  /** A name for a member's own aim that no other aim has. */
  private async freeName(
    set: PeerSetRow,
    { name }: { readonly name: string },
    had: PeerMatchRow | null,
  ): Promise<string> {
    const { data } = this.services
    if (had?.aimId) {
      const row = await data.getRepository(aimEntity).findOneBy({ id: had.aimId })
      if (row) return row.name
    }
    const base = `${set.name.slice(0, 22)}, ${name.slice(0, 20)} by eye`
    const taken = await data.query<{ name: string }[]>('SELECT name FROM aim WHERE name LIKE ? ESCAPE ?', [
      `${base.replace(/[\\%_]/g, (c) => `\\${c}`)}%`,
      '\\',
    ])
    const names = new Set(taken.map((t) => t.name))
    for (let n = 1; ; n++) {
      const tried = n === 1 ? base : `${base} ${n}`
      if (!names.has(tried)) return tried
    }
  }

  /** A member's own aim: the set's, its white moved. */
  private writeAim(
    take: Take,
    match: UvPrime & { readonly id: number; readonly aimId: number | null },
    base: Aim,
    name: string,
  ): void {
    const { data, now } = this.services
    const aim = byEye(base, match)
    if (match.aimId !== null) {
      take(written('UPDATE aim SET aim = ?, updated_at = ? WHERE id = ?', [JSON.stringify(aim), now(), match.aimId]))
      return
    }
    const made = take(insertion(data.manager, aimEntity, { name, aim, updatedAt: now() }))
    take(written('UPDATE peer_match SET aim_id = ? WHERE id = ?', [made, match.id]))
  }

  /** What writes the own aims of all members of a set that were matched, when it has a new aim; call it, then take what it gives. */
  async following(set: PeerSetRow, base: Aim): Promise<(take: Take) => void> {
    const { data } = this.services
    const rows = await data.getRepository(peerMatchEntity).findBy({ setId: set.id, state: 'in force' })
    const members = await membersOf(data, set.id)
    const named: { row: PeerMatchRow; name: string }[] = []
    for (const row of rows) {
      const member = members.find((m) => m.displayId === row.displayId)
      if (member) named.push({ row, name: await this.freeName(set, member, row) })
    }
    return (take) => named.forEach(({ row, name }) => this.writeAim(take, row, base, name))
  }

  /** Matches of a set: those in force, then those that have ended, each the newest first. */
  async of(setId: number): Promise<PeerMatch[]> {
    const rows = await this.services.data.query<
      (Omit<PeerMatchRow, 'repeats' | 'settled'> & { repeats: string; settled: string } & Record<
          'name' | 'besideName' | 'aimName',
          string | null
        >)[]
    >(
      `SELECT peer_match.id AS id, display_id AS displayId, beside_id AS besideId, at, by, repeats, settled, u, v, state,
         aim_id AS aimId, aim.name AS aimName, one.name AS name, other.name AS besideName
       FROM peer_match JOIN display AS one ON one.id = display_id JOIN display AS other ON other.id = beside_id
         LEFT JOIN aim ON aim.id = aim_id
       WHERE set_id = ? ORDER BY state = 'ended', peer_match.id DESC LIMIT ${newest}`,
      [setId],
    )
    return rows.map(({ repeats, settled, u, v, aimId, aimName, name, besideName, ...row }) => ({
      ...{ id: row.id, displayId: row.displayId, besideId: row.besideId, at: row.at, by: row.by, state: row.state },
      ...{ name: name ?? '', besideName: besideName ?? '', offset: { u, v } },
      repeats: JSON.parse(repeats) as PeerMatch['repeats'],
      settled: JSON.parse(settled) as PeerMatch['settled'],
      aim: aimId === null || aimName === null ? null : { id: aimId, name: aimName },
    }))
  }
}

const rounded = (value: number) => Math.round(value * 1e5) / 1e5

/** An aim with its white moved as it was matched; as it was where that is nothing. */
function byEye(base: Aim, { u, v }: UvPrime): Aim {
  const { white } = base
  if (white.kind === 'panel' || white.kind === 'by eye') return base
  return { ...base, white: { kind: 'by eye', of: white, u: rounded(u), v: rounded(v) } }
}

const shownOffset = ({ u, v }: UvPrime): string =>
  `u′ ${rounded(u)}, v′ ${rounded(v)}, Δu′v′ ${deltaUv({ u, v }, { u: 0, v: 0 }).toFixed(4)}`

/** The statement by which matches end whose member, or the one beside it, is not in the set any more. */
export const endStrangers = (setId: number) =>
  written(
    `UPDATE peer_match SET state = 'ended' WHERE set_id = ? AND state = 'in force' AND
       (SELECT COUNT(*) FROM peer_member WHERE peer_member.set_id = peer_match.set_id
        AND peer_member.display_id IN (peer_match.display_id, beside_id)) < 2`,
    [setId],
  )
