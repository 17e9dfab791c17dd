import type { Page } from '@playwright/test'
import { expect, signIn, test, views } from './studio'

test.use({ place: 'widths' })

/** What is cut or lies over something else: planes and headings that leave the area, and planes that share pixels. */
const faults = (page: Page) =>
  page.evaluate<string[]>(`(() => {
    const area = document.querySelector('main.area')
    const found = []
    if (document.documentElement.scrollWidth > innerWidth) found.push('the page is wider than the window')
    if (area.scrollWidth > area.clientWidth) {
      const right = area.getBoundingClientRect().right
      const scrolls = (e) => e !== area && (getComputedStyle(e).overflowX !== 'visible' || scrolls(e.parentElement))
      const widest = [...area.querySelectorAll('*')].find(
        (e) => e.getBoundingClientRect().right > right + 1 && !scrolls(e.parentElement),
      )
      found.push('the area is wider than its place, by ' + (widest?.className || widest?.tagName))
    }
    const planes = [...area.querySelectorAll('.plane, .longtable')].filter((e) => e.getBoundingClientRect().width > 0)
    for (const [i, a] of planes.entries())
      for (const b of planes.slice(i + 1)) {
        if (a.contains(b) || b.contains(a)) continue
        const [p, q] = [a.getBoundingClientRect(), b.getBoundingClientRect()]
        const over = Math.min(p.right, q.right) - Math.max(p.left, q.left)
        const under = Math.min(p.bottom, q.bottom) - Math.max(p.top, q.top)
        if (over > 1 && under > 1)
          found.push(a.querySelector('h2')?.textContent + ' lies over ' + b.querySelector('h2')?.textContent)
      }
    return found
  })()`)

test('from 360 px nothing overlaps or is cut, and the rail folds into one button @long', async ({ page, demo }) => {
  const found: string[] = []
  await signIn(page, demo)
  for (const path of views) {
    await page.goto(demo.url + path)
    await page.locator('main h1').waitFor()
    await expect(page.getByText('Loading…')).toHaveCount(0)
    for (const width of [360, 390, 820, 1024]) {
      await page.setViewportSize({ width, height: 800 })
      await page.evaluate('new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))')
      for (const fault of await faults(page)) found.push(`${path} at ${width}: ${fault}`)
    }
  }
  expect(found).toEqual([])

  await page.setViewportSize({ width: 360, height: 800 })
  await page.goto(`${demo.url}/rounds`)
  const rail = page.getByRole('navigation', { name: 'Areas' })
  await expect(rail.getByRole('link', { name: 'Drift' })).toBeHidden()
  await rail.getByRole('button', { name: 'Rounds' }).click()
  await rail.getByRole('link', { name: 'Drift' }).click()
  await expect(page.getByRole('heading', { name: 'Drift', level: 1 })).toBeVisible()
  await expect(rail.getByRole('link', { name: 'Drift' })).toBeHidden()
})
