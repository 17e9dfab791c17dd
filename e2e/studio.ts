import { cpSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test as base, type Page } from '@playwright/test'
import type { Bench, Letter } from '@bichroma/bench'
import { demoAccounts } from '../scripts/demoStudio'
import { otherwiseThanDescribed } from '../scripts/otherwiseThanDescribed'
import { Processes } from '../scripts/processes.mjs'

export interface Demo {
  url: string
  /** Address of the bench panel. */
  panel: string
  /** Causes or mends a fault on the bench. */
  fault: (name: string, body: object) => Promise<void>
  /** What whoever works at each desk is told. */
  desks: () => Promise<ReturnType<Bench['desks']>>
  /** Letters that the stand-in for a mail server has taken in. */
  letters: () => Promise<Letter[]>
  /** How everything on the bench stands. */
  state: () => Promise<ReturnType<Bench['overview']>>
  /** Kills the server, and starts another on the same folder and port. */
  restartServer: () => Promise<void>
  /** What the live display emits for signals now, without noise. */
  truth: (signals: number[][]) => Promise<number[][]>
}

/** The demo studio on the real server with the real bench process; one for every file, named by its `place`, `pace` times as fast as real. */
export const test = base.extend<{ answersHeld: void }, { place: string; pace: string; demo: Demo }>({
  // Whatever the browser is answered is as the API's description has it.
  answersHeld: [
    async ({ context }, use) => {
      const otherwise: string[] = []
      const looked: Promise<unknown>[] = []
      context.on('response', (response) => {
        const { pathname, search } = new URL(response.url())
        if (!pathname.startsWith('/api/')) return
        const type = response.headers()['content-type']
        if (!type?.includes('json')) return
        const look = async () => {
          // A page that was left takes its answers along.
          const body = await response.body().catch(() => null)
          if (!body) return
          const found = await otherwiseThanDescribed(response.request().method(), pathname.slice(4) + search, {
            status: response.status(),
            type,
            json: async () => JSON.parse(body.toString()) as unknown,
          })
          if (found) otherwise.push(found)
        }
        looked.push(look())
      })
      await use()
      await Promise.all(looked)
      expect(otherwise).toEqual([])
    },
    { auto: true },
  ],
  place: ['', { scope: 'worker', option: true }],
  pace: ['60', { scope: 'worker', option: true }],
  demo: [
    async ({ place, pace }, use) => {
      const folder = mkdtempSync(join(tmpdir(), `bichroma-e2e-${place}-`))
      cpSync(process.env.BICHROMA_DEMO_TEMPLATE!, folder, { recursive: true })
      const processes = new Processes()
      const { url, control, restartServer } = await processes.startDemo({
        folder,
        port: '0',
        pace,
        counted: true,
        web: 'packages/web/dist',
      })
      const post = async (path: string, body: object) => {
        const response = await fetch(control + path, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify(body),
        })
        if (!response.ok) throw new Error(await response.text())
        return response.json() as Promise<{ xyz: number[][] }>
      }
      await use({
        url,
        panel: control,
        restartServer,
        desks: async () => (await fetch(`${control}/desks`)).json() as never,
        letters: async () => (await fetch(`${control}/mail.json`)).json() as never,
        state: async () => (await fetch(`${control}/state`)).json() as never,
        fault: async (name, body) => void (await post(`/faults/${name}`, body)),
        truth: async (signals) => (await post('/truth', { display: 'QL-27-04418', signals })).xyz,
      })
      processes.stop()
      rmSync(folder, { recursive: true, force: true })
    },
    { scope: 'worker', timeout: 300_000 },
  ],
})

export { expect }

/** Signs in as the demo's account of a role. */
export async function signIn(
  page: Page,
  demo: Demo,
  role: 'administrator' | 'technician' | 'viewer' = 'administrator',
): Promise<void> {
  const { login, password } = demoAccounts.find((a) => a.role === role)!
  await page.goto(demo.url)
  await page.getByLabel('Login').fill(login)
  await page.getByLabel('Password').fill(password)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('navigation', { name: 'Areas' })).toBeVisible()
}

/** Goes to an area by the rail. */
export const goTo = (page: Page, area: string) =>
  page.getByRole('navigation', { name: 'Areas' }).getByRole('link', { name: area }).click()

/** Every view of the demo's studio, as an administrator opens it. */
export const views = [
  '/',
  '/needs',
  '/register',
  '/register/2',
  '/register/models',
  '/register/inventory',
  '/register/put-away',
  '/register/rooms/4',
  '/aims',
  '/aims/limits',
  '/runs',
  '/runs/new?display=2',
  '/runs/6',
  '/review',
  '/review/6',
  '/review/6/evidence',
  '/review/compare?a=6&b=7',
  '/review/profiles?run=6',
  '/drift',
  '/drift/2',
  '/peers',
  '/peers/1',
  '/peers/1/eye',
  '/peers/new',
  '/peers/rings',
  '/rollout',
  '/rollout/policies',
  '/rollout/waves/new?differs=yes',
  '/rollout/waves/1',
  '/rounds',
  '/rounds/week',
  '/rounds/tour',
  '/rounds/rules',
  '/rounds/house',
  '/kept',
  '/ledger',
  '/ledger/backups',
  '/people',
  '/account',
  '/account/api',
]
