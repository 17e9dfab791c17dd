import { chromium } from '@playwright/test'
import { spawn } from 'node:child_process'
const child = spawn(
  process.execPath,
  [
    '--import',
    'tsx',
    'packages/server/src/app/main.ts',
    '--data',
    '/tmp/first',
    '--port',
    '0',
    '--web',
    'packages/web/dist',
  ],
  { stdio: ['ignore', 'pipe', 'inherit'] },
)
const { url, first } = await new Promise<{ url: string; first: string }>((r) =>
  child.stdout.on('data', (d: Buffer) => r(JSON.parse(d.toString()))),
)
setTimeout(() => {
  child.kill('SIGKILL')
  process.exit(1)
}, 70000)
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: '--no-sandbox --disable-gpu --no-first-run'.split(' '),
})
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
page.setDefaultTimeout(10000)
page.on('pageerror', (e) => console.log('ERR', e.message))
page.on('console', (m) => {
  if (m.type() === 'error') console.log('console', m.text())
})
await page.goto(url)
await page.getByLabel('Token of the console').waitFor()
const shot = async (n: string) => {
  await page.waitForTimeout(600)
  await page.screenshot({ path: `/tmp/shots/f_${n}.png` })
}
await page.getByLabel('Token of the console').fill('wrong')
await page.getByLabel('Your name').fill('Marit Oyen')
await page.getByLabel('Login').fill('marit')
await page.getByLabel('Password').fill('short')
await page.keyboard.press('Enter')
await shot('first')
await page.getByLabel('Token of the console').fill(first.toLowerCase())
await page.getByLabel('Password').fill('sedge-and-lantern')
await page.keyboard.press('Enter')
await page.getByRole('navigation', { name: 'Areas' }).waitFor()
await shot('steps')
await page.getByRole('link', { name: 'Add a room' }).click()
await page.getByRole('button', { name: 'Add room' }).click()
await page.getByLabel('Name').fill('Sedge Room')
await page.getByRole('dialog').getByRole('button', { name: 'Add room' }).click()
await page.waitForTimeout(500)
await page.getByRole('button', { name: 'Add workstation' }).click()
await page.getByLabel('Name').fill('sedge-02')
await page.getByLabel('System', { exact: true }).click()
await page.keyboard.press('ArrowDown')
await page.keyboard.press('Enter')
await page.getByLabel('Version of the system').fill('12')
await page.getByRole('dialog').getByRole('button', { name: 'Add workstation' }).click()
await page.getByTestId('courier-key').waitFor()
await shot('key')
await page.getByRole('button', { name: 'Done' }).click()
await page.goto(url + '/people')
await page.getByRole('button', { name: 'Invite somebody' }).click()
await page.getByRole('dialog').getByLabel('Name').fill('Tobin Asare')
await page.getByRole('dialog').getByLabel('Login').fill('tobin')
await page.getByRole('button', { name: 'Make the invitation' }).click()
await page.getByText('Link for Tobin').waitFor()
await shot('people')
await page.goto(url + '/ledger')
await page.getByRole('button', { name: 'Prove the ledger' }).click()
await shot('ledger')
await page.goto(url + '/account')
await shot('account')
await browser.close()
child.kill('SIGKILL')
process.exit(0)
