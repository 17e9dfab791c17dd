import type { DataSource } from 'typeorm'
import { makeLinkSchema, roleCovers, validate, type FeedKind, type LinkListing } from '@bichroma/contract'
import { accountEntity } from '../access/entities'
import { written } from '../data/atomically'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import type { Ledger } from '../ledger/ledger'
import { instrumentEntity, roomEntity } from '../register/entities'
import { feedOf } from './feed'
import type { OpenLinks } from './links'
import { opensNothing, type Opened } from './opened'

interface LinkServices {
  readonly data: DataSource
  readonly ledger: Ledger
  readonly links: OpenLinks
  readonly opened: Opened
  readonly now: () => number
}

/** Calendars of one subject that are open at once. */
const mostLinks = 20

/** Calendars of people, rooms and instruments, opened by a link and no account. */
export function linkRoutes(api: Api, services: LinkServices): void {
  const { data, ledger, links, opened, now } = services
  const nameOf = async (kind: FeedKind, id: number): Promise<string | null> => {
    if (kind === 'person') return (await data.getRepository(accountEntity).findOneBy({ id }))?.name ?? null
    if (kind === 'room') return (await data.getRepository(roomEntity).findOneBy({ id }))?.name ?? null
    const row = await data.getRepository(instrumentEntity).findOneBy({ id })
    return row && `${row.model} ${row.serial}`
  }

  api.on('GET /links', async (request) => {
    const rows = await data.query<(Omit<LinkListing, 'name'> & { of: number })[]>(
      `SELECT id, kind, subject_id AS of, made_at AS madeAt, made_by AS madeBy FROM open_link
       WHERE kind <> 'desk' AND ended_at IS NULL ORDER BY id DESC LIMIT 500`,
    )
    const own = rows.filter(
      (r) => roleCovers(request.account.role, 'administrator') || (r.kind === 'person' && r.of === request.account.id),
    )
    const told: LinkListing[] = []
    for (const { of, ...row } of own) told.push({ ...row, name: (await nameOf(row.kind, of)) ?? 'gone' })
    return told
  })
  api.on('POST /links', async (request, response) => {
    const { kind, of } = validate(makeLinkSchema, request.body)
    const isOwn = kind === 'person' && of === request.account.id
    if (!isOwn && !roleCovers(request.account.role, 'administrator'))
      throw new Refusal('not-allowed', 'Your account may make a link to its own calendar only. Ask an administrator.')
    const name = await nameOf(kind, of)
    if (name === null) throw new Refusal('invalid-input', `“Of” names no ${kind} that is there; choose one.`, 'of')
    const [{ open }] = await data.query<[{ open: number }]>(
      'SELECT COUNT(*) AS open FROM open_link WHERE kind = ? AND subject_id = ? AND ended_at IS NULL',
      [kind, of],
    )
    if (open >= mostLinks)
      throw new Refusal('conflict', `${name} has ${mostLinks} calendars already. End one of them first.`, 'of')
    const { token, statement } = links.feed(kind, of, request.account.name)
    const id = ledger.change(
      request.account,
      (take) => take(statement),
      (made) => ({ act: 'added', thing: 'token', id: made, name: `calendar of ${name}` }),
    )
    response.status(201)
    return { id, token }
  })
  api.on('DELETE /links/:id', async (request) => {
    const id = idOf(request)
    const [row] = await data.query<{ kind: FeedKind; of: number }[]>(
      `SELECT kind, subject_id AS of FROM open_link WHERE id = ? AND ended_at IS NULL AND kind <> 'desk'`,
      [id],
    )
    const isOwn = row?.kind === 'person' && row.of === request.account.id
    if (!row || (!isOwn && !roleCovers(request.account.role, 'administrator')))
      throw new Refusal('not-found', `There is no calendar ${id}.`)
    const name = await nameOf(row.kind, row.of)
    ledger.change(
      request.account,
      (take) => take(written('UPDATE open_link SET ended_at = ? WHERE id = ?', [now(), id])),
      () => ({ act: 'removed', thing: 'token', id, name: `calendar of ${name}` }),
    )
    return {}
  })
  api.on('GET /feeds/:token', async (request, response) => {
    const link = await opened(String(request.params.token).replace(/\.ics$/, ''))
    const { kind } = link
    if (kind === 'desk') throw opensNothing()
    const name = (await nameOf(kind, link.subjectId)) ?? 'nobody'
    response.type('text/calendar').send(await feedOf(data, { ...link, kind }, name, now()))
  })
}
