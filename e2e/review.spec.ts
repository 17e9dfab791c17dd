import { readFileSync } from 'node:fs'
import { PNG } from 'pngjs'
import type { RunReview } from '@bichroma/contract'
import { expect, goTo, signIn, test } from './studio'

test.use({ place: 'review' })

const sample = readFileSync('packages/cli/samples/sedge-2-after.cgats', 'utf8')

test('a check run to its report; the same run compared, and its drift', async ({ page, demo }) => {
  const broken: string[] = []
  page.on('pageerror', (error) => broken.push(error.message))
  page.on('response', (r) => r.status() >= 500 && broken.push(`${r.status()} ${r.url()}`))
  await signIn(page, demo, 'technician')
  await demo.fault('carry', { instrument: 'TC-0417', workstation: 'sedge-02' })
  await page.goto(`${demo.url}/runs/new?display=2&kind=check`)
  await page.getByText('14', { exact: true }).click()
  await expect(page.getByText('14 patches: greys, primaries', { exact: false })).toBeVisible()
  await page.getByRole('button', { name: 'Start check run of slot 1' }).click()
  await expect(page.getByText('14 patches', { exact: false }).first()).toBeVisible()
  await page.getByRole('button', { name: 'Open review' }).click()
  await expect(page.getByRole('heading', { name: /^Sedge 2, slot 1/ })).toBeVisible()
  const review = (await (
    await page.request.get(`${demo.url}/api/runs/${page.url().split('/').pop()}/review`)
  ).json()) as RunReview
  await expect(page.getByText(review.judgement.sentence)).toBeVisible()
  await expect(page.getByRole('heading', { name: '14 patches' })).toBeVisible()

  await test.step('patches by kind and by name; figures by another formula, with edges of their own or none', async () => {
    await page.getByRole('combobox', { name: 'Kind of patches shown' }).click()
    await page.getByTitle('natural colours', { exact: true }).last().click()
    await expect(page.getByRole('heading', { name: '3 patches' })).toBeVisible()
    await page.getByRole('button', { name: 'Patch', exact: true }).click()
    await expect(page.getByRole('columnheader', { name: /Patch/ })).toHaveAttribute('aria-sort', 'descending')
    await page.getByRole('combobox', { name: 'Colour differences shown by' }).click()
    await page.getByTitle('ΔE ITP', { exact: true }).last().click()
    await expect(page.getByText('The verdict is by ΔE2000.', { exact: false })).toBeVisible()
  })

  await test.step('the report says the same, in one file', async () => {
    await page.getByRole('button', { name: 'Save or open' }).click()
    const opened = page.waitForEvent('popup')
    await page.getByRole('link', { name: 'Open report' }).click()
    const report = await opened
    await expect(report.getByText(review.judgement.sentence)).toBeVisible()
    await expect(report.getByRole('heading', { level: 1 })).toContainText('Sedge 2, slot 1, Atlas web')
    await report.close()
    const saved = page.waitForEvent('download')
    await page.getByRole('button', { name: 'Save or open' }).click()
    await page.getByRole('link', { name: 'Save as PDF', exact: true }).click()
    expect((await saved).suggestedFilename()).toMatch(/^Sedge-2-slot-1-\d{4}-\d{2}-\d{2}\.pdf$/)
  })

  await test.step('compared with the validation before, differences with their signs', async () => {
    await page.getByRole('button', { name: 'Compare' }).click()
    await expect(page.getByRole('heading', { name: 'Compare' })).toBeVisible()
    await expect(page.getByRole('cell', { name: /^[+−]?\d+\.\d{4}$/ }).first()).toBeVisible()
    await expect(page.getByText('patches were read in one of the two only', { exact: false })).toBeVisible()
  })

  await test.step('Drift: the slot among the fleet, its newest check as a point', async () => {
    await goTo(page, 'Drift')
    await expect(page.getByText(/\d+ slots;/)).toBeVisible()
    await page.goto(`${demo.url}/drift/2`)
    await expect(page.getByText('7 validations since', { exact: false })).toBeVisible()
    await page.getByRole('button', { name: /^Average ΔE2000/ }).click()
    await expect(page.getByRole('heading', { name: 'Average ΔE2000' })).toBeVisible()
  })
  expect(broken).toEqual([])
})

test('readings from a file: a good one is judged and marked, a broken one told by its line @long', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'technician')
  await goTo(page, 'Review')
  await page.getByRole('button', { name: 'Import readings' }).click()
  const dialog = page.getByRole('dialog')
  const choose = (name: string, text: string) =>
    dialog.getByLabel('File of readings').setInputFiles({ name, mimeType: 'text/plain', buffer: Buffer.from(text) })
  await choose('cut.cgats', sample.slice(0, 1200))
  await dialog.getByRole('button', { name: 'Import readings' }).click()
  await expect(dialog.getByText('“Instrument” is missing', { exact: false })).toBeVisible()
  await dialog.getByLabel('Measured with').fill('Lent probe')
  await dialog.getByRole('button', { name: 'Import readings' }).click()
  await expect(dialog.getByText(/cut\.cgats, line \d+: /)).toBeVisible()
  await choose('lent.cgats', sample)
  await dialog.getByRole('button', { name: 'Import readings' }).click()
  await expect(page.getByText('Imported from lent.cgats', { exact: false })).toBeVisible()
  await expect(page.getByText('Lent probe', { exact: false })).toBeVisible()
  await goTo(page, 'Review')
  await expect(page.getByRole('row', { name: /Sedge 1.*Imported/ })).toBeVisible()
})

test('a validation is withdrawn by an administrator, with a reason, and counts no longer', async ({ page, demo }) => {
  await signIn(page, demo)
  await goTo(page, 'Review')
  const row = page.getByRole('row').filter({ hasText: 'Lantern 1' }).first()
  await row.click()
  await page.getByRole('button', { name: 'Withdraw validation' }).click()
  const dialog = page.getByRole('dialog', { name: 'Withdraw this validation' })
  await expect(dialog.getByRole('button', { name: 'Withdraw validation' })).toBeDisabled()
  await dialog.getByLabel('Why it shall not count').fill('The instrument had slipped.')
  await dialog.getByRole('button', { name: 'Withdraw validation' }).click()
  await expect(page.getByText('Withdrawn by Marit Oyen', { exact: false })).toContainText('The instrument had slipped.')
  await expect(page.getByRole('button', { name: 'Withdraw validation' })).toHaveCount(0)
  await goTo(page, 'Review')
  await expect(row).toContainText('withdrawn')
  await expect(row).toContainText('The instrument had slipped.')
})

test('gamuts in three dimensions, pictures on two sides, and a profile that is dropped @long', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'viewer')
  const runs = (await (await page.request.get(`${demo.url}/api/runs?kind=full&of=judged&limit=2`)).json()) as {
    items: { id: number }[]
  }
  const full = runs.items[0].id
  await page.goto(`${demo.url}/review/${full}`)

  await test.step('the body is drawn, and turns by key', async () => {
    await page.getByText('Gamut', { exact: true }).click()
    await expect(page.getByText('Volume covered')).toBeVisible()
    const scene = page.getByRole('img', { name: /^Measured gamut in CIELAB/ })
    const pixels = async () => PNG.sync.read(await scene.screenshot()).data
    const background = (await pixels()).subarray(0, 3)
    const drawn = async () => {
      const data = await pixels()
      let different = 0
      for (let p = 0; p < data.length; p += 4)
        if ([0, 1, 2].some((k) => Math.abs(data[p + k] - background[k]) > 12)) different++
      return different / (data.length / 4)
    }
    await expect.poll(drawn).toBeGreaterThan(0.05)
    const before = await pixels()
    await scene.focus()
    for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowRight')
    await expect.poll(async () => before.equals(await pixels())).toBe(false)
    const coverage = Number((await page.getByRole('row', { name: /Volume covered/ }).innerText()).match(/[\d.]+/)![0])
    expect(coverage).toBeGreaterThan(50)
    expect(coverage).toBeLessThanOrEqual(100)
  })

  await test.step('twelve million pixels on two sides; the divider by key; where they differ; a file that is no picture', async () => {
    await page.getByText('Pictures', { exact: true }).click()
    await expect(page.getByText('ΔE2000 apart', { exact: false })).toBeVisible()
    const jpeg = await page.evaluate<number[]>(`(async () => {
      const canvas = new OffscreenCanvas(4000, 3000)
      const context = canvas.getContext('2d')
      for (let i = 0; i < 600; i++) { context.fillStyle = 'hsl(' + i * 37 % 360 + ' 60% ' + i * 13 % 100 + '%)'; context.fillRect(i * 997 % 4000, i * 613 % 3000, 900, 700) }
      return [...new Uint8Array(await (await canvas.convertToBlob({ type: 'image/jpeg' })).arrayBuffer())]
    })()`)
    const chooser = page.getByLabel('Picture of your own')
    await chooser.setInputFiles({ name: 'fen.jpg', mimeType: 'image/jpeg', buffer: Buffer.from(jpeg) })
    await expect(page.getByText('12.0 million pixels, ', { exact: false })).toBeVisible()
    const divider = page.getByRole('slider', { name: 'Divider between left and right' })
    await divider.focus()
    await page.keyboard.press('Home')
    await expect(divider).toHaveAttribute('aria-valuenow', '0')
    await page.getByText('Where they differ', { exact: true }).click()
    await expect(page.getByText(/full ochre from\s+ΔE2000 of \d/)).toBeVisible()
    await chooser.setInputFiles({ name: 'no.png', mimeType: 'image/png', buffer: Buffer.from('no picture') })
    await expect(page.getByRole('alert')).toContainText('no.png could not be read')
  })

  await test.step('a profile is looked into, and compared with another', async () => {
    await page.goto(`${demo.url}/review/profiles?run=${full}`)
    await expect(page.getByRole('row', { name: /^rXYZ/ })).toBeVisible()
    const other = runs.items[1].id
    const bytes = await (await page.request.get(`${demo.url}/api/runs/${other}/profile`)).body()
    await page.getByRole('button', { name: 'Open another beside it' }).click()
    await page.getByLabel('Profile to look into').setInputFiles({ name: 'other.icc', mimeType: '', buffer: bytes })
    await expect(page.locator('tr.differs').first()).toBeVisible()
    await page
      .getByLabel('Profile to look into')
      .setInputFiles({ name: 'no.icc', mimeType: '', buffer: Buffer.from('no') })
    await expect(page.getByRole('alert')).toContainText('no.icc: This is not an ICC profile')
  })
})

test('by keyboard alone: from Drift to a slot, its figures, the comparison and a review @long', async ({
  page,
  demo,
}) => {
  await signIn(page, demo)
  await page.keyboard.press('g')
  await page.keyboard.press('t')
  await expect(page.getByRole('heading', { name: 'Drift' })).toBeVisible()
  await page
    .getByRole('table', { name: /Slots|Validations/ })
    .getByRole('row')
    .nth(1)
    .focus()
  await page.keyboard.press('Enter')
  await expect(page.getByText('validations since', { exact: false })).toBeVisible()
  await page.getByRole('button', { name: /^White Δu′v′/ }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'White Δu′v′' })).toBeVisible()
  await page.getByRole('button', { name: 'Compare the last two' }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'Compare' })).toBeVisible()
  await page.locator('.comparison th a').first().focus()
  await page.keyboard.press('Enter')
  await expect(page.getByText('Aim and achieved')).toBeVisible()
  await page.getByRole('radio', { name: 'Tone' }).focus()
  await page.keyboard.press('ArrowRight')
  await expect(page.getByText('chroma difference')).toBeVisible()
})
