import { In, type DataSource } from 'typeorm'
import { describeAim, type Aim } from '@bichroma/core/aims'
import { aimOfGround, roundedLight } from '@bichroma/core/peers'
import { whyNotShapable } from '@bichroma/core/runs'
import {
  adoptGroundSchema,
  peerSetListSchema,
  savePeerSetSchema,
  startPeerRunsSchema,
  validate,
  type PeerSetDetail,
  type PeerSetListing,
  type SavePeerSet,
} from '@bichroma/contract'
import { aimEntity } from '../aims/entities'
import type { CourierHub } from '../couriers/hub'
import { insertion, written, type Take } from '../data/atomically'
import { holds, pageOf } from '../data/pageOf'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import { queryOf } from '../http/query'
import { refusingTaken } from '../http/taken'
import { changesBetween, type Ledger } from '../ledger/ledger'
import { displayEntity } from '../register/entities'
import { aheadOf } from './ahead'
import { peerMemberEntity, peerSetEntity } from './entities'
import { askedOf, membersOf, shownMember } from './gatherSet'
import type { PeerKeeper } from './keeper'
import { peerSetOf } from './peerSetOf'
import type { PeerLooks } from './looks'
import { endStrangers, type PeerMatches } from './matches'

interface PeerRouteServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly ledger: Ledger
  readonly keeper: PeerKeeper
  readonly looks: PeerLooks
  readonly matches: PeerMatches
  readonly now: () => number
  readonly changed: () => void
  /** The list of aims has changed. */
  readonly aimsChanged: () => void
}

type Listed = Omit<PeerSetListing, 'members' | 'furthest' | 'moved'> & {
  members: string
  furthest: string | null
  moved: string
}

/** Peer sets: what must look alike, what they can have in common, and how alike they are. */
export function peerRoutes(
  api: Api,
  { data, hub, ledger, keeper, looks, matches, now, changed, aimsChanged }: PeerRouteServices,
): void {
  const setOf = (id: number) => peerSetOf(data, id)
  const read = (body: unknown) => validate(savePeerSetSchema, body)

  /** Every member is a display in use with that slot. Gives their names, for the ledger. */
  const checkMembers = async ({ members }: SavePeerSet): Promise<string[]> => {
    const displays = await data.getRepository(displayEntity).findBy({ id: In(members.map((m) => m.displayId)) })
    return members.map(({ displayId, slot }, i) => {
      const display = displays.find((d) => d.id === displayId)
      if (!display)
        throw new Refusal('invalid-input', `“Members” names display ${displayId}, which is not there.`, 'members')
      if (slot > display.slots)
        throw new Refusal(
          'invalid-input',
          `${display.name} has ${display.slots} slots; there is no slot ${slot}.`,
          `members[${i}].slot`,
        )
      return `${display.name}, slot ${slot}`
    })
  }
  const writeMembers = (take: Take, setId: number, { members }: SavePeerSet) =>
    members.forEach((m, place) => take(insertion(data.manager, peerMemberEntity, { setId, ...m, place })))
  /** Every member can be brought to an aim, as far as its courier tells. */
  const mustBeShapable = async (setId: number, aim: Aim) => {
    for (const { name, serial, workstationId, kept } of await membersOf(data, setId)) {
      const told = kept === 'in use' ? hub.displayOf(workstationId, serial) : null
      const why = whyNotShapable(aim, { gamutTargets: told?.gamutTargets ?? null, holds: told?.pipeline.kind ?? null })
      if (why) throw new Refusal('conflict', `${name}: ${why}`)
    }
  }
  const settingsOf = ({ members: _members, reference, ...asked }: SavePeerSet) => ({ ...asked, referenceId: reference })

  api.on('GET /peer-sets', async (request) => {
    const asked = queryOf(request, peerSetListSchema)
    const page = await pageOf<Listed>(data, asked, {
      columns: `peer_set.id AS id, peer_set.name AS name, aim.name AS aimName, verdict, judged_at AS judgedAt, furthest, moved,
        luminance,
        (SELECT json_group_array(name) FROM (SELECT display.name AS name FROM peer_member
          JOIN display ON display.id = display_id WHERE set_id = peer_set.id ORDER BY place)) AS members`,
      from: 'peer_set LEFT JOIN aim ON aim.id = aim_id',
      countFrom: 'peer_set',
      where: [
        holds('peer_set.name', asked.search),
        asked.display !== undefined && {
          sql: 'peer_set.id IN (SELECT set_id FROM peer_member WHERE display_id = ?)',
          parameters: [Number(asked.display)],
        },
      ],
      by: 'folded(peer_set.name)',
      id: 'peer_set.id',
    })
    return {
      ...page,
      items: page.items.map(({ members, furthest, moved, ...row }): PeerSetListing => ({
        ...row,
        members: JSON.parse(members) as string[],
        furthest: furthest === null ? null : (JSON.parse(furthest) as PeerSetListing['furthest']),
        moved: JSON.parse(moved) as PeerSetListing['moved'],
      })),
    }
  })

  api.on('POST /peer-sets', async (request, response) => {
    const input = read(request.body)
    const names = await checkMembers(input)
    const id = await refusingTaken('peer set', () =>
      ledger.change(
        request.account,
        (take) => {
          const made = take(
            insertion(data.manager, peerSetEntity, {
              ...settingsOf(input),
              ...{ createdAt: now(), createdBy: request.account.name },
              ...{ aimId: null, adopted: null, adoptedAt: null, adoptedBy: null },
              ...{ due: 1, standing: null, workedOutAt: null, verdict: null, judgedAt: null, furthest: null },
              ...{ moved: [], luminance: null },
            }),
          )
          writeMembers(take, made, input)
          return made
        },
        (made) => ({
          ...{ act: 'added', thing: 'peer set', id: made, name: input.name },
          changes: [{ field: 'members', to: names.join('; ') }],
        }),
      ),
    )
    await keeper.bring(id)
    changed()
    response.status(201)
    return { id }
  })

  api.on('GET /peer-sets/:id', async (request): Promise<PeerSetDetail> => {
    const row = await setOf(idOf(request))
    const { id, name, referenceId: reference, standing, due } = row
    const { white, toneResponse, standard, share, headroom, black, limits } = row
    const aim = row.aimId === null ? null : await data.getRepository(aimEntity).findOneBy({ id: row.aimId })
    return {
      ...{ id, name, reference, white, toneResponse, standard, share, headroom, black, limits, standing },
      members: (await membersOf(data, id)).map(shownMember),
      aim: aim && { id: aim.id, name: aim.name, aim: aim.aim },
      adopted: row.adopted && { ...row.adopted, at: row.adoptedAt!, by: row.adoptedBy! },
      asked: { white: askedOf(row, now()).white, standard, share, headroom },
      working: due > 0,
      ahead: await aheadOf(data, id),
      matches: await matches.of(id),
      looks: await looks.of(id),
    }
  })

  api.on('PUT /peer-sets/:id', async (request) => {
    const before = await setOf(idOf(request))
    const input = read(request.body)
    const names = await checkMembers(input)
    const { id } = before
    const had = (await membersOf(data, id)).map((m) => `${m.name}, slot ${m.slot}`)
    await refusingTaken('peer set', () =>
      ledger.change(
        request.account,
        (take) => {
          take(
            data
              .createQueryBuilder()
              .update(peerSetEntity)
              .set({ ...settingsOf(input), due: () => 'due + 1' } as never)
              .where({ id }),
          )
          take(written('DELETE FROM peer_member WHERE set_id = ?', [id]))
          writeMembers(take, id, input)
          take(endStrangers(id))
        },
        () => ({
          ...{ act: 'changed', thing: 'peer set', id, name: input.name },
          changes: changesBetween(
            { ...settingsOf(before as never), referenceId: before.referenceId, members: had.join('; ') },
            { ...settingsOf(input), members: names.join('; ') },
          ),
        }),
      ),
    )
    await keeper.bring(id)
    changed()
    return {}
  })

  api.on('DELETE /peer-sets/:id', async (request) => {
    const { id, name } = await setOf(idOf(request))
    const open = await data.query<unknown[]>(`SELECT 1 FROM peer_look WHERE set_id = ? AND state = 'under way'`, [id])
    if (open.length) throw new Refusal('conflict', `Runs of ${name} are under way. Wait for them, or stop them first.`)
    ledger.change(
      request.account,
      (take) => {
        for (const table of ['peer_member', 'peer_match', 'peer_look'])
          take(written(`DELETE FROM ${table} WHERE set_id = ?`, [id]))
        take(written('DELETE FROM peer_set WHERE id = ?', [id]))
      },
      () => ({ act: 'removed', thing: 'peer set', id, name }),
    )
    changed()
    return {}
  })

  api.on('POST /peer-sets/:id/aim', async (request) => {
    const { luminance } = validate(adoptGroundSchema, request.body)
    await keeper.bring(idOf(request))
    const set = await setOf(idOf(request))
    const ground = set.standing?.ground
    if (!ground)
      throw new Refusal('conflict', `${set.name} has no common ground yet: look at its members for what they lack.`)
    if (roundedLight(ground.luminance) !== luminance)
      throw new Refusal(
        'conflict',
        `The common ground is ${roundedLight(ground.luminance)} cd/m² by now, not the ${luminance} that you were shown. Look at it again.`,
        'luminance',
      )
    const { primaries, standard } = ground
    const black = set.black === 'common' ? ground.black : null
    const adopted = { luminance: ground.luminance, primaries, standard, black }
    const aim = aimOfGround(adopted, set)
    await mustBeShapable(set.id, aim)
    const row = set.aimId === null ? null : await data.getRepository(aimEntity).findOneBy({ id: set.aimId })
    const name = row?.name ?? `${set.name.slice(0, 44)}, common ground`
    const at = now()
    const writeOwnAims = await matches.following(set, aim)
    const aimId = await refusingTaken('aim', () =>
      ledger.change(
        request.account,
        (take) => {
          const made = row?.id ?? take(insertion(data.manager, aimEntity, { name, aim, updatedAt: at }))
          if (row)
            take(
              data
                .createQueryBuilder()
                .update(aimEntity)
                .set({ aim, updatedAt: at } as never)
                .where({ id: row.id }),
            )
          take(
            data
              .createQueryBuilder()
              .update(peerSetEntity)
              .set({
                ...{ aimId: made, adopted, adoptedAt: at },
                adoptedBy: request.account.name,
                due: () => 'due + 1',
              } as never)
              .where({ id: set.id }),
          )
          writeOwnAims(take)
          take(
            ledger.entry(request.account, {
              ...{ act: row ? 'changed' : 'added', thing: 'aim', id: made, name },
              changes: changesBetween({ aim: row?.aim ?? null }, { aim }),
            }),
          )
          return made
        },
        (made) => ({
          ...{ act: 'changed', thing: 'peer set', id: set.id, name: set.name },
          changes: [{ field: 'common ground', to: describeAim(aim) }],
          evidence: { aim: made },
        }),
      ),
    )
    await keeper.bring(set.id)
    changed()
    aimsChanged()
    return { id: aimId }
  })

  api.on('POST /peer-sets/:id/runs', async (request, response) => {
    const asked = validate(startPeerRunsSchema, request.body)
    const answer = await looks.start(await setOf(idOf(request)), asked, request.account)
    response.status(201)
    return answer
  })
}
