import { Allowance } from '../http/allowance'
import { Refusal } from '../http/problem'
import type { OpenLink, OpenLinks } from './links'

/** What one link may ask in a minute. */
const asksPerMinute = 120

/** Of a link that was ended, that never was, or that opens something else: nobody learns which. */
export const opensNothing = () => new Refusal('not-found', 'This link opens nothing any more. Ask for a new one.')

/** What a token opens, for whoever does not ask too much at once. Throws Refusal. */
export type Opened = (token: unknown) => Promise<OpenLink>

export function openedBy(links: OpenLinks): Opened {
  const asked = new Allowance<number>(asksPerMinute, 60_000)
  return async (token) => {
    const link = await links.find(String(token))
    if (!link) throw opensNothing()
    if (!asked.take(link.id)) throw new Refusal('too-many', 'That is much at once. Wait a minute and try again.')
    return link
  }
}
