import { Allowance } from '../http/allowance'

const minute = 60_000
/** Addresses that an account is known from. */
const mostPlaces = 32

/**
 * Holds up whoever guesses passwords: tries are counted by account and address, by address, and by account. An account
 * that many guess at stays open to the addresses from which its owner has signed in, so that nobody is locked out.
 */
export class SignInThrottle {
  private readonly pairs: Allowance<string>
  private readonly addresses: Allowance<string>
  private readonly accounts: Allowance<string>
  private readonly known = new Map<string, Set<string>>()

  /** `now`: ms of a clock that only goes forward. */
  constructor(now?: () => number) {
    this.pairs = new Allowance(10, minute, now)
    this.addresses = new Allowance(60, minute, now)
    this.accounts = new Allowance(40, 15 * minute, now)
  }

  /** Whether a try is let through. Only tries that fail are counted, by {@link failed}. */
  mayTry(login: string, address: string): boolean {
    return (
      this.pairs.holds(`${login}\n${address}`) &&
      this.addresses.holds(address) &&
      (this.accounts.holds(login) || Boolean(this.known.get(login)?.has(address)))
    )
  }

  failed(login: string, address: string): void {
    this.pairs.take(`${login}\n${address}`)
    this.addresses.take(address)
    this.accounts.take(login)
  }

  /** Somebody has signed in from there. */
  succeeded(login: string, address: string): void {
    const from = this.known.get(login) ?? new Set()
    // The newest places; somebody on the road has a new one each day, and comes home to the old.
    from.delete(address)
    if (from.size >= mostPlaces) from.delete([...from][0])
    this.known.set(login, from.add(address))
  }
}
