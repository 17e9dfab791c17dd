import { SignInThrottle } from './throttle'

let at = 0
let throttle: SignInThrottle
beforeEach(() => {
  at = 1e6
  throttle = new SignInThrottle(() => at)
})
const seconds = (n: number) => (at += n * 1000)
/** Guesses until it is held up, at most so often; gives how many were let through. */
const guess = (login: string, address: string, most = 200) => {
  for (let n = 0; n < most; n++) {
    if (!throttle.mayTry(login, address)) return n
    throttle.failed(login, address)
  }
  return most
}

test('ten tries a minute at one account from one address, and then again', () => {
  expect(guess('marit', '10.0.0.1')).toBe(10)
  // Somebody else at the same address is not held up by that, nor the account elsewhere.
  expect(throttle.mayTry('tobin', '10.0.0.1')).toBe(true)
  expect(throttle.mayTry('marit', '10.0.0.2')).toBe(true)
  seconds(59)
  expect(throttle.mayTry('marit', '10.0.0.1')).toBe(false)
  seconds(2)
  expect(guess('marit', '10.0.0.1')).toBe(10)
})

test('an address that goes through many accounts is held up as a whole', () => {
  const let_through = Array.from({ length: 40 }, (_, i) => guess(`person-${i}`, '10.0.0.1', 3))
  expect(let_through.reduce((a, b) => a + b)).toBe(60)
  expect(throttle.mayTry('somebody', '10.0.0.1')).toBe(false)
  expect(throttle.mayTry('somebody', '10.0.0.9')).toBe(true)
})

describe('an account that is guessed at from many addresses', () => {
  const from = (n: number) => `192.168.${n >> 8}.${n & 255}`
  const attack = () => Array.from({ length: 400 }, (_, n) => guess('marit', from(n), 2)).reduce((a, b) => a + b)

  test('is closed to places that nobody knows after forty tries, for a quarter of an hour', () => {
    expect(attack()).toBe(40)
    seconds(14 * 60)
    expect(throttle.mayTry('marit', from(399))).toBe(false)
    seconds(61)
    expect(throttle.mayTry('marit', from(399))).toBe(true)
  })

  test('stays open to its owner where they have signed in, and to guesses there no more than ever', () => {
    throttle.succeeded('marit', '10.0.0.1')
    attack()
    expect(throttle.mayTry('marit', '10.0.0.1')).toBe(true)
    expect(guess('marit', '10.0.0.1')).toBe(10)
  })

  test('keeps the places where its owner was last, however long ago each was first seen', () => {
    throttle.succeeded('marit', 'home')
    for (let n = 0; n < 100; n++) {
      throttle.succeeded('marit', from(n))
      throttle.succeeded('marit', 'home')
    }
    attack()
    const known = Array.from({ length: 100 }, (_, n) => n).filter((n) => throttle.mayTry('marit', from(n)))
    expect(throttle.mayTry('marit', 'home')).toBe(true)
    // Home and the last 31 of the road.
    expect(known).toEqual(Array.from({ length: 31 }, (_, n) => 69 + n))
  })
})

test('tries that succeed are not counted', () => {
  for (let n = 0; n < 500; n++) {
    expect(throttle.mayTry('marit', '10.0.0.1')).toBe(true)
    throttle.succeeded('marit', '10.0.0.1')
  }
})
