import type { DataSource } from 'typeorm'
import {
  answerReportSchema,
  answerVisitSchema,
  deskReportListSchema,
  looksWrongSchema,
  validate,
  type DeskReport,
} from '@bichroma/contract'
import { written } from '../data/atomically'
import type { ContentStore } from '../data/contents'
import { holds, pageOf } from '../data/pageOf'
import { Allowance } from '../http/allowance'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import { queryOf } from '../http/query'
import type { Ledger } from '../ledger/ledger'
import { deskOf, freeTimes } from './deskPage'
import { visitEntity } from './entities'
import type { OpenLinks } from './links'
import { opensNothing, type Opened } from './opened'
import type { RoundsPlanner } from './planner'
import type { Visits } from './visits'

interface DeskRouteServices {
  readonly data: DataSource
  readonly contents: ContentStore
  readonly ledger: Ledger
  readonly links: OpenLinks
  readonly opened: Opened
  readonly planner: RoundsPlanner
  readonly visits: Visits
  readonly now: () => number
  readonly changed: () => void
}

/** What one desk may say in a day that looks wrong. */
const wrongPerDay = 12

const pictureTypes = [
  { type: 'image/png', begins: [0x89, 0x50, 0x4e, 0x47] },
  { type: 'image/jpeg', begins: [0xff, 0xd8, 0xff] },
] as const

/** The pages of desks, opened by a link and no account, and what is said there. */
export function deskRoutes(api: Api, services: DeskRouteServices): void {
  const { data, contents, ledger, links, opened, planner, visits, now, changed } = services
  const wrong = new Allowance<number>(wrongPerDay, 86_400_000)
  const deskBy = async (token: unknown): Promise<number> => {
    const link = await opened(token)
    if (link.kind !== 'desk') throw opensNothing()
    return link.subjectId
  }

  api.on('POST /workstations/:id/desk-link', async (request) => {
    const id = idOf(request)
    const [row] = await data.query<{ name: string }[]>(
      'SELECT name FROM workstation WHERE id = ? AND retired_at IS NULL',
      [id],
    )
    if (!row) throw new Refusal('not-found', `There is no workstation ${id}.`)
    // The one before ends: whoever had it sees nothing any more.
    ledger.change(
      request.account,
      (take) =>
        take(
          written(`UPDATE open_link SET ended_at = ? WHERE kind = 'desk' AND subject_id = ? AND ended_at IS NULL`, [
            now(),
            id,
          ]),
        ),
      () => ({ act: 'changed', thing: 'workstation', id, name: row.name, changes: [{ field: 'desk link' }] }),
    )
    const token = await links.desk(id)
    changed()
    return { token }
  })

  api.on('GET /desk/:token', async (request) => {
    const desk = await deskOf(data, await deskBy(request.params.token), now())
    if (!desk) throw opensNothing()
    return desk
  })
  api.on('POST /desk/:token/answer', async (request) => {
    const workstationId = await deskBy(request.params.token)
    const { visitId, answer, at } = validate(answerVisitSchema, request.body)
    const [there] = await data.query<{ id: number; dueAt: number | null }[]>(
      `SELECT visit.id AS id, display_now.due_at AS dueAt FROM visit JOIN display_now ON display_now.display_id = visit.display_id
       WHERE visit.id = ? AND workstation_id = ? AND visit.state = 'planned'`,
      [visitId, workstationId],
    )
    if (!there) throw new Refusal('not-found', 'This visit is not planned any more. Look at the page again.')
    const visit = await data.getRepository(visitEntity).findOneByOrFail({ id: visitId })
    if (answer !== 'suits') {
      const { times, later } = await freeTimes(data, visit, there.dueAt, now())
      const to = answer === 'later' ? later : at!
      if (to === null || (answer === 'another time' && !times.includes(to)))
        throw new Refusal('conflict', 'That time is not free any more. Choose another.', 'at')
      const { personId, instrumentId } = visit
      await visits.move(
        visitId,
        { personId, instrumentId: instrumentId!, at: to },
        'Bichroma',
        'as was asked at the desk',
      )
    }
    await data.query('UPDATE visit SET answer = ?, answered_at = ? WHERE id = ?', [answer, now(), visitId])
    changed()
    return {}
  })
  api.on('POST /desk/:token/wrong', async (request, response) => {
    const workstationId = await deskBy(request.params.token)
    const { displayId, text, picture } = validate(looksWrongSchema, request.body)
    const [display] = await data.query<{ name: string; workstation: string }[]>(
      `SELECT name, facts ->> 'workstation' AS workstation FROM display_now WHERE display_id = ? AND workstation_id = ?`,
      [displayId, workstationId],
    )
    if (!display) throw new Refusal('invalid-input', '“Display” names none of this desk; choose one.', 'displayId')
    if (!wrong.take(workstationId))
      throw new Refusal('too-many', 'That was said often today already. Somebody will come; tell your administrator.')
    const bytes = picture === undefined ? null : Buffer.from(picture, 'base64')
    const type = bytes && pictureTypes.find((p) => p.begins.every((b, i) => bytes[i] === b))?.type
    if (bytes && !type) throw new Refusal('invalid-input', '“Picture” must be a PNG or JPEG picture.', 'picture')
    const hash = bytes && (await contents.put(bytes))
    const id = ledger.change(
      'Bichroma',
      (take) =>
        take(
          written(
            `INSERT INTO desk_report (workstation_id, display_id, at, text, picture_hash, picture_type, state)
             VALUES (?, ?, ?, ?, ?, ?, 'open')`,
            [workstationId, displayId, now(), text, hash, type ?? null],
          ),
        ),
      (made) => ({
        act: 'reported',
        thing: 'display',
        id: displayId,
        name: display.name,
        why: text,
        evidence: { report: made, workstation: display.workstation },
      }),
    )
    changed()
    planner.soon()
    response.status(201)
    return { id }
  })

  api.on('GET /desk-reports', (request) => {
    const query = queryOf(request, deskReportListSchema)
    return pageOf<DeskReport>(data, query, {
      columns: `desk_report.id AS id, desk_report.display_id AS displayId, display.name AS displayName,
        workstation.name AS workstation, room.name AS room, at, text, picture_hash IS NOT NULL AS picture,
        desk_report.state AS state, answer, answered_by AS answeredBy, answered_at AS answeredAt`,
      from: `desk_report JOIN display ON display.id = desk_report.display_id
        JOIN workstation ON workstation.id = desk_report.workstation_id JOIN room ON room.id = room_id`,
      where: [
        holds(`display.name || ' ' || workstation.name || ' ' || room.name || ' ' || text`, query.search),
        query.state !== undefined && { sql: 'desk_report.state = ?', parameters: [query.state] },
      ],
      by: 'at',
      down: true,
      id: 'desk_report.id',
    }).then((page) => ({ ...page, items: page.items.map((r) => ({ ...r, picture: Boolean(r.picture) })) }))
  })
  api.on('GET /desk-reports/:id/picture', async (request, response) => {
    const [row] = await data.query<{ hash: string | null; type: string }[]>(
      'SELECT picture_hash AS hash, picture_type AS type FROM desk_report WHERE id = ?',
      [idOf(request)],
    )
    const bytes = row?.hash ? await contents.get(row.hash) : null
    if (!bytes) throw new Refusal('not-found', 'Nobody sent a picture with it.')
    response.type(row.type).send(Buffer.from(bytes))
  })
  api.on('POST /desk-reports/:id/answer', async (request) => {
    const id = idOf(request)
    const { answer } = validate(answerReportSchema, request.body)
    const [row] = await data.query<{ displayId: number; name: string; state: string }[]>(
      `SELECT display_id AS displayId, display.name AS name, state FROM desk_report JOIN display ON display.id = display_id
       WHERE desk_report.id = ?`,
      [id],
    )
    if (!row) throw new Refusal('not-found', `There is no report ${id}.`)
    if (row.state !== 'open') throw new Refusal('conflict', 'This was answered already.')
    ledger.change(
      request.account,
      (take) =>
        take(
          written(
            `UPDATE desk_report SET state = 'answered', answer = ?, answered_at = ?, answered_by = ? WHERE id = ? AND state = 'open'`,
            [answer, now(), request.account.name, id],
          ),
        ),
      () => ({
        act: 'answered',
        thing: 'display',
        id: row.displayId,
        name: row.name,
        why: answer,
        evidence: { report: id },
      }),
    )
    changed()
    planner.soon()
    return {}
  })
}
