import AxeBuilder from '@axe-core/playwright'
import { expect, signIn, test, views } from './studio'

test.use({ place: 'face' })

test('by keyboard alone: the palette, the list of keys, areas by two keys, a row by Enter', async ({ page, demo }) => {
  await signIn(page, demo)
  await page.keyboard.press('Control+k')
  await expect(page.getByLabel('Command')).toBeFocused()
  await page.keyboard.type('open lan 3')
  await expect(page.locator('.ant-select-item-option', { hasText: 'Lantern 3' }).first()).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: /Lantern 3/ })).toBeVisible()
  await page.keyboard.press('g')
  await page.keyboard.press('o')
  await expect(page.getByRole('heading', { name: 'Does every workstation show what it should?' })).toBeVisible()
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog', { name: 'Keys' })).toHaveCount(0)
  await page.keyboard.press('g')
  await page.keyboard.press('r')
  // Rollout has a row of that name too: wait until the Register is what is shown.
  await expect(page.getByRole('heading', { name: 'Register' })).toBeVisible()
  await page.getByRole('row', { name: /^Lantern 1/ }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: /Lantern 1/ })).toBeVisible()
})

test('surfaces are true neutral greys in both themes, and the choice is kept @long', async ({ page, demo }) => {
  await signIn(page, demo)
  const surfaces = () =>
    page.evaluate<string[]>(
      `[...document.querySelectorAll('body, .rail, .plane, .tile, .pulse, .longtable, .drawer')].map((e) => getComputedStyle(e).backgroundColor)`,
    )
  for (const [shown, next] of [
    ['Dark theme', 'Light theme'],
    ['Light theme', 'Dark theme'],
  ]) {
    for (const path of ['/', '/register', '/register/2']) {
      await page.goto(demo.url + path)
      await expect(page.getByRole('button', { name: shown })).toBeVisible()
      for (const color of new Set(await surfaces())) {
        const [r, g, b] = color.match(/\d+/g)!.map(Number)
        expect(r === g && g === b, color).toBe(true)
      }
    }
    await page.getByRole('button', { name: shown }).click()
    await page.reload()
    await expect(page.getByRole('button', { name: next })).toBeVisible()
  }
})

const levels = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']

test('no accessibility violations of levels A and AA, in both themes @long', async ({ page, demo }) => {
  const found: string[] = []
  await signIn(page, demo)
  let [shown, next] = ['Dark theme', 'Light theme']
  for (const path of views) {
    const look = async (axe: AxeBuilder, theme: string) => {
      for (const v of (await axe.analyze()).violations)
        found.push(`${path}, ${theme}: ${v.id} at ${v.nodes.slice(0, 4).map((n) => n.target.join(' '))}`)
    }
    await page.goto(demo.url + path)
    await page.locator('main h1').waitFor()
    await expect(page.getByText('Loading…')).toHaveCount(0)
    await look(
      new AxeBuilder({ page })
        .setLegacyMode()
        .options({ resultTypes: ['violations'] })
        .withTags(levels),
      shown,
    )
    // The other theme differs in colour alone.
    await page.getByRole('button', { name: shown }).click()
    ;[shown, next] = [next, shown]
    await expect(page.getByRole('button', { name: shown })).toBeVisible()
    await look(
      new AxeBuilder({ page })
        .setLegacyMode()
        .options({ resultTypes: ['violations'] })
        .withRules(['color-contrast']),
      shown,
    )
  }
  expect(found).toEqual([])
})

test('an address that is nothing says so; nothing is asked from outside', async ({ page, demo }) => {
  const outside: string[] = []
  page.on('console', (said) => said.text().includes('Content Security Policy') && outside.push(said.text()))
  page.on('request', (r) => !r.url().startsWith(demo.url) && !r.url().startsWith('data:') && outside.push(r.url()))
  await signIn(page, demo)
  await page.goto(`${demo.url}/nowhere/at/all`)
  await expect(page.getByText('There is nothing at this address.')).toBeVisible()
  await page.goto(`${demo.url}/register/999`)
  await expect(page.getByRole('alert')).toContainText('There is no display 999.')
  await page.goto(`${demo.url}/review/abc`)
  await expect(page.getByRole('alert')).toContainText('There is nothing with the number')
  expect(outside).toEqual([])
})
