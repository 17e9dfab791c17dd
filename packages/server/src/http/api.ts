import { Router, type Request, type Response } from 'express'
import type { Account, Role } from '@bichroma/contract'
import { roleCovers } from '@bichroma/contract'
import type { Answers } from './answers'
import { routeRoles, type RouteName, type TechnicianRoute } from './routeRoles'
import { Refusal } from './problem'

interface ApiRequest extends Request {
  /** The account signed in; routes for anyone may find none. */
  account: Account
}

/** A room that a request is about. */
export interface RoomAsked {
  readonly id: number
  readonly name: string
}

/** The rooms that a request of a technician is about; none where what it names is not there. */
export type RoomsAsked = Readonly<Record<TechnicianRoute, (request: Request) => readonly RoomAsked[]>>

/** What is a person's own: no program does it in their name. */
const forPeople = (name: RouteName): boolean =>
  /^(GET|POST|PUT|DELETE) \/(session|tokens|first-visit|accept)/.test(name) && name !== 'GET /session'

/** What a route does: it gives its answer, or has sent one of its own. */
type Handler<K extends RouteName> = (
  request: ApiRequest,
  response: Response,
) => Answers[K] | void | Promise<Answers[K] | void>

/** A router on which only routes of the role table can be put. */
export class Api {
  readonly router = Router()
  private readonly registered = new Set<string>()

  constructor(
    private readonly accountOf: (request: Request) => Promise<Account | null>,
    private readonly roomsAsked: RoomsAsked,
  ) {}

  /** Refuses an account that may not do this. */
  private mustBeAllowed(name: RouteName, account: Account, request: Request): void {
    const role = routeRoles[name]
    if (role !== 'anyone' && !roleCovers(account.role, role))
      throw new Refusal(
        'not-allowed',
        `This needs the role ${role}; your account has the role ${account.role}. Ask an administrator.`,
      )
    if (request.headers.authorization !== undefined && forPeople(name))
      throw new Refusal('not-allowed', 'This is for people: sign in with a browser. A token cannot do it.')
    if (account.lacksSecondFactor && !name.includes(' /session'))
      throw new Refusal('not-allowed', 'The studio asks for a second factor. Set yours up in your own account first.')
    if (account.role !== 'technician' || account.rooms === null || role !== 'technician') return
    const { rooms } = account
    const elsewhere = this.roomsAsked[name as TechnicianRoute](request).find(({ id }) => !rooms.includes(id))
    if (elsewhere)
      throw new Refusal(
        'not-allowed',
        `${elsewhere.name} is not among the rooms that your account is limited to. Ask an administrator.`,
      )
  }

  /** Adds a route. What the handler returns is sent as JSON, nothing (undefined) means that it has answered itself. */
  on<K extends RouteName>(name: K, handler: Handler<K>): void {
    const role: Role | 'anyone' | undefined = routeRoles[name]
    if (role === undefined) throw new Error(`The route ${name} names no role; add it to the role table.`)
    this.registered.add(name)
    const [method, path] = name.split(' ') as ['GET' | 'POST' | 'PUT' | 'DELETE', string]
    const verb = method.toLowerCase() as 'get' | 'post' | 'put' | 'delete'
    this.router[verb](path, async (request, response) => {
      const account = await this.accountOf(request)
      if (role !== 'anyone') {
        if (!account) throw new Refusal('not-signed-in', 'You are not signed in. Sign in and try again.')
        this.mustBeAllowed(name, account, request)
      } else if (request.headers.authorization !== undefined && forPeople(name))
        throw new Refusal('not-allowed', 'This is for people: sign in with a browser. A token cannot do it.')
      const result = await handler(Object.assign(request, { account }) as ApiRequest, response)
      if (result !== undefined && !response.headersSent) response.json(result)
    })
  }

  /** Routes of the table that nobody put up. */
  missing(): string[] {
    return Object.keys(routeRoles).filter((name) => !this.registered.has(name))
  }
}

/** The number in a path's parameter. Refuses anything but a whole number from 1. */
export function idOf(request: Request, parameter = 'id'): number {
  const text = String(request.params[parameter])
  if (!/^[1-9][0-9]{0,14}$/.test(text))
    throw new Refusal('not-found', `There is nothing with the number “${text.slice(0, 40)}”.`, parameter)
  return Number(text)
}
