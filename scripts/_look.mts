import { cpSync, rmSync, mkdirSync } from 'node:fs'
import { createHmac } from 'node:crypto'
import { chromium } from '@playwright/test'
import { Processes } from './processes.mjs'
const folder = '/tmp/look'
rmSync(folder, { recursive: true, force: true })
cpSync('/tmp/demo-template', folder, { recursive: true })
const shots = '/tmp/shots'
mkdirSync(shots, { recursive: true })
const p = new Processes()
const { url } = await p.startDemo({ folder, port: '0', pace: '60', counted: true, web: 'packages/web/dist' })
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--no-first-run'],
})
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
page.on('pageerror', (e) => console.log('PAGE ERROR', e.message))
page.on('console', (m) => m.type() === 'error' && console.log('CONSOLE', m.text()))
const shot = async (name: string) => {
  await page.waitForTimeout(700)
  await page.screenshot({ path: `${shots}/${name}.png` })
}
const go = async (path: string) => {
  await page.goto(url + path)
  await page.waitForTimeout(900)
}
await go('/')
await page.getByLabel('Login').fill('marit')
await page.getByLabel('Password').fill('sedge-and-lantern')
await page.getByRole('button', { name: 'Sign in' }).click()
await page.waitForTimeout(1500)
const steps: Record<string, () => Promise<void>> = {
  register: async () => {
    await go('/register')
    await shot('register')
  },
  models: async () => {
    await go('/register/models')
    await shot('models')
  },
  inventory: async () => {
    await go('/register/inventory')
    const text = await (await page.request.get(url + '/api/inventory')).text()
    const lines = text.trim().split('\n')
    const bad = lines[2].split(',')
    bad[5] = 'plasma'
    const changed = lines[3].split(',')
    changed[13] = '7'
    const fresh = lines[4].split(',')
    fresh[0] = 'QL-27-99999'
    fresh[1] = 'Plate 9'
    fresh[9] = 'plate-09'
    await page.getByLabel('Inventory file').setInputFiles({
      name: 'inventory.csv',
      mimeType: 'text/csv',
      buffer: Buffer.from([lines[0], lines[1], bad.join(','), changed.join(','), fresh.join(',')].join('\n')),
    })
    await shot('inventory')
  },
  display: async () => {
    await go('/register/1')
    await page.mouse.move(900, 500)
    await page.locator('.area').evaluate((e) => e.scrollTo(0, 10000))
    await shot('display')
    await page.getByRole('button', { name: 'Replace' }).click()
    await shot('replace')
    await page.keyboard.press('Escape')
    await page.getByRole('button', { name: 'Store or retire' }).click()
    await shot('store')
    await page.keyboard.press('Escape')
  },
  workstation: async () => {
    await go('/register')
    await page.getByRole('button', { name: 'sedge-02' }).first().click()
    await shot('workstation')
  },
  people: async () => {
    await go('/people')
    await shot('people')
  },
  account: async () => {
    await go('/account')
    await page.getByRole('button', { name: 'Make a token' }).click()
    await page.getByLabel('What it is for').fill('nightly check')
    await page.getByRole('button', { name: 'Make it' }).click()
    await page.getByRole('button', { name: 'Set up a second factor' }).click()
    await shot('account')
  },
}
for (const name of process.argv.slice(2).length ? process.argv.slice(2) : Object.keys(steps)) {
  try {
    await steps[name]()
  } catch (e) {
    console.log(name, String(e).slice(0, 400))
    await shot(`${name}-failed`)
  }
}
void createHmac
await browser.close()
p.stop()
process.exit(0)
