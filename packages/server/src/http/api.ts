import { Router, type Request, type Response } from 'express'
import type { Account } from '@bichroma/contract'
import { roleCovers } from '@bichroma/contract'
import { routeRoles, type RouteName } from './routeRoles'
import { Refusal } from './problem'

interface ApiRequest extends Request {
  /** The account signed in; routes for anyone may find none. */
  account: Account
}

type Handler = (request: ApiRequest, response: Response) => Promise<unknown> | unknown

/** A router on which only routes of the role table can be put. */
export class Api {
  readonly router = Router()
  private readonly registered = new Set<string>()

  constructor(private readonly accountOf: (request: Request) => Promise<Account | null>) {}

  /** Adds a route. What the handler returns is sent as JSON, nothing (undefined) means that it has answered itself. */
  on(name: RouteName, handler: Handler): void {
    const role = routeRoles[name]
    if (role === undefined) throw new Error(`The route ${name} names no role; add it to the role table.`)
    this.registered.add(name)
    const [method, path] = name.split(' ') as ['GET' | 'POST' | 'PUT' | 'DELETE', string]
    const verb = method.toLowerCase() as 'get' | 'post' | 'put' | 'delete'
    this.router[verb](path, async (request, response) => {
      const account = await this.accountOf(request)
      if (role !== 'anyone') {
        if (!account) throw new Refusal('not-signed-in', 'You are not signed in. Sign in and try again.')
        if (!roleCovers(account.role, role))
          throw new Refusal(
            'not-allowed',
            `This needs the role ${role}; your account has the role ${account.role}. Ask an administrator.`,
          )
      }
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
