import { computeMetrics } from '@bichroma/core/aims'
import type { Triple, XYZ } from '@bichroma/core/color'
import { quantizeSignal } from '@bichroma/core/tables'
import type { RunDetail } from '@bichroma/contract'
import { expect, goTo, signIn, test } from './studio'

test.use({ place: 'walk' })

test('from the register to a profile in force', async ({ page, demo }) => {
  const broken: string[] = []
  page.on('pageerror', (error) => broken.push(error.message))
  page.on('response', (r) => r.status() >= 500 && broken.push(`${r.status()} ${r.url()}`))

  await test.step('a wrong password gets one sentence; the right one opens Floor', async () => {
    await page.goto(demo.url)
    await page.getByLabel('Login').fill('marit')
    await page.getByLabel('Password').fill('wrong')
    await page.getByRole('button', { name: 'Sign in' }).click()
    await expect(page.getByText('The login or the password is not right.')).toBeVisible()
    await signIn(page, demo)
  })

  await test.step('Floor: six rooms, 34 displays with rings, verdicts and due dates', async () => {
    await expect(page.getByRole('heading', { name: /of 34 screens can be trusted today/ })).toBeVisible()
    await expect(page.getByRole('heading', { name: 'Sedge Room' })).toBeVisible()
    await expect(page.getByRole('heading', { name: 'Lantern Hall' })).toBeVisible()
    await expect(page.getByRole('img', { name: /^Aim ring/ })).toHaveCount(34)
    const outside = page.getByRole('link', { name: /^Aim ring.*Lantern 3/ })
    await expect(outside.getByRole('img', { name: 'outside', exact: true })).toBeVisible()
    await expect(page.getByText('Lantern 3 is outside')).toBeVisible()
    await expect(page.getByText('d over').first()).toBeVisible()
  })

  await test.step('Register: the display with its rack and past runs', async () => {
    await goTo(page, 'Register')
    await page.getByLabel('Find a display').fill('04418')
    await page.getByRole('row', { name: /^Sedge 2/ }).click()
    await expect(page.getByRole('heading', { name: /Sedge 2/ })).toBeVisible()
    for (const fact of [
      'Quillon Q27',
      'QL-27-04418',
      'wide-gamut phosphor LED',
      'sedge-02',
      'Linux 12',
      'courier online',
      'shown now',
      'Atlas print',
      'Empty',
    ])
      await expect(page.locator('main').getByText(fact, { exact: false }).first()).toBeVisible()
    await expect(page.getByRole('link', { name: 'Check run' }).first()).toBeVisible()
  })

  await test.step('Aims: what cannot be is refused at its field; what can is saved', async () => {
    await goTo(page, 'Aims')
    await page.getByRole('button', { name: 'Add aim' }).click()
    await expect(page.getByRole('heading', { name: 'A new aim' })).toBeVisible()
    await page.getByLabel('Name').fill('Herbarium web')
    await page.getByLabel('Luminance, cd/m²').fill('0')
    await page.getByRole('button', { name: 'Add aim' }).last().click()
    await expect(page.getByText('“Luminance” must be above 0.')).toBeVisible()
    await page.getByLabel('Luminance, cd/m²').fill('110')
    await page.getByRole('combobox', { name: 'White' }).click()
    await page.getByTitle('xy by hand').first().click()
    await page.getByLabel('White x').fill('0.8')
    await page.getByLabel('White y').fill('0.15')
    await page.getByRole('button', { name: 'Add aim' }).last().click()
    await expect(page.getByText(/lies outside the spectral locus/)).toBeVisible()
    await page.getByLabel('White x').fill('0.3150')
    await page.getByLabel('White y').fill('0.3320')
    await page.getByRole('button', { name: 'Add aim' }).last().click()
    await expect(page.getByRole('button', { name: /^Herbarium web/ })).toHaveAttribute('aria-current', 'true')
    await expect(page.getByText('sRGB · xy 0.3150 0.3320 · 110 cd/m² · sRGB tone')).toBeVisible()
  })

  await test.step('Limits: edges in the wrong order are refused', async () => {
    await page.getByText('Limits', { exact: true }).click()
    await page.getByLabel('Near edge').first().fill('9')
    await page.getByRole('button', { name: 'Save limits' }).click()
    await expect(
      page.getByText('The near edge of “Average ΔE2000” must not be larger than its hard edge.'),
    ).toBeVisible()
  })

  await test.step('Runs: told what is overwritten, then live until it is done', async () => {
    await page.goto(`${demo.url}/runs/new?display=2&kind=full&slot=2`)
    await expect(page.getByText(/Slot 2 holds “Atlas print”.*This run overwrites it/)).toBeVisible()
    await page.getByRole('combobox', { name: 'Aim' }).click()
    await page.getByTitle('Herbarium web').click()
    await page.getByRole('button', { name: 'Start full run and overwrite “Atlas print”' }).click()
    await expect(page.getByRole('heading', { name: /Full run, Sedge 2, slot 2/ })).toBeVisible()
    await expect(page.getByTestId('time-left')).toContainText(/min left, from \d+ readings so far/)
    await expect(page.getByText(/\d\d conditions met/)).toBeVisible()
    await expect(page.locator('.stage.now')).toHaveCount(1)
    await expect(page.locator('.pulse')).toContainText('Full run')
    await expect(page.getByRole('button', { name: 'Open review' })).toBeVisible({ timeout: 180_000 })
    await expect(page.getByTestId('percent')).toHaveText('100 %')
    await expect(page.locator('.stage.done')).toHaveCount(7)
    await expect(page.getByText(/hashes equal/)).toBeVisible()
  })

  const runId = Number(/runs\/(\d+)/.exec(page.url())![1])
  await test.step('the panel’s noise-free truth agrees', async () => {
    const run = (await (await page.request.get(`${demo.url}/api/runs/${runId}`)).json()) as RunDetail
    const signals: Triple[] = [
      [1, 1, 1],
      [0, 0, 0],
    ]
    for (let i = 0; i < 200; i++) signals.push(quantizeSignal([(i * 0.618) % 1, (i * 0.755) % 1, (i * 0.57) % 1], 10))
    const truth = await demo.truth(signals as unknown as number[][])
    const metrics = computeMetrics(
      signals.map((rgb, i) => ({ name: String(i), rgb, xyz: truth[i] as unknown as XYZ })),
      run.resolvedAim!,
    )
    process.stdout.write(
      `e2e, by the truth: average ${metrics.averageDeltaE.toFixed(3)}, worst ${metrics.worstDeltaE.toFixed(2)} ΔE2000, white ${metrics.whiteDeltaUv.toFixed(5)} Δu′v′, luminance ${metrics.luminanceOff.toFixed(2)} %\n`,
    )
    expect(metrics.averageDeltaE).toBeLessThanOrEqual(0.8)
    expect(metrics.worstDeltaE).toBeLessThanOrEqual(2.5)
    expect(metrics.whiteDeltaUv).toBeLessThanOrEqual(0.002)
    expect(Math.abs(metrics.luminanceOff)).toBeLessThanOrEqual(2)
  })

  await test.step('Review: aim, achieved and difference; patches; curves; chromaticity', async () => {
    await page.getByRole('button', { name: 'Open review' }).click()
    await expect(page.getByRole('heading', { name: 'Sedge 2, slot 2, Herbarium web' })).toBeVisible()
    await expect(page.getByRole('row', { name: /White x 0\.3150/ })).toBeVisible()
    await expect(page.getByRole('row', { name: /Luminance cd\/m² 110\.0/ })).toBeVisible()
    await expect(page.getByRole('heading', { name: '39 patches' })).toBeVisible()
    await expect(page.locator('.chart .recharts-line-curve').first()).toBeVisible()
    await page.getByText('Greys', { exact: true }).click()
    await expect(page.getByText('chroma difference')).toBeVisible()
    await page.locator('.ant-segmented').getByText('Δu′v′', { exact: true }).click()
    await expect(page.getByText('Δu′v′ to the aim’s white')).toBeVisible()
    await page.getByText('Chromaticity', { exact: true }).click()
    await expect(
      page.getByRole('img', { name: /aim’s triangle and measured triangle/ }).locator('polygon'),
    ).toHaveCount(4)
    const report = await page.request.get(`${demo.url}/api/runs/${runId}/report`)
    expect(await report.text()).toContain('Herbarium web')
  })

  await test.step('Rollout: placed, and in force from the courier’s read-back', async () => {
    await page.getByRole('button', { name: 'Place profile' }).click()
    await expect(page.getByRole('heading', { name: 'Sedge 2 on sedge-02' })).toBeVisible()
    await expect(page.getByText(/read back by the courier: bound to this display/)).toBeVisible()
    await expect(
      page.getByText(/written to \/usr\/share\/color\/icc\/Sedge-2-slot-2-Herbarium-web-110-cd/),
    ).toBeVisible()
  })

  await test.step('Rounds: the due line has moved four weeks on', async () => {
    await goTo(page, 'Rounds')
    await expect(page.getByRole('heading', { name: /overdue, \d+ more due this week/ })).toBeVisible()
    await page.getByText('overdue', { exact: true }).click()
    await expect(page.getByRole('table', { name: 'Due lines' })).toContainText('Sedge 4')
    await expect(page.getByRole('table', { name: 'Due lines' })).not.toContainText('Sedge 2')
    await page.goto(`${demo.url}/register/2`)
    const due = new Date(Date.now() + 28 * 86_400_000)
    await expect(page.locator('main')).toContainText(
      `due line ${due.getDate()} ${due.toLocaleString('en', { month: 'short' })}`,
    )
  })
  expect(broken).toEqual([])
})

test('the data link unplugged: the run stops at Ready and says what to do; mended, a check run goes through @long', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'technician')
  await demo.fault('dataLink', { display: 'QL-27-04418', on: true })
  await page.goto(`${demo.url}/runs/new?display=2&kind=check`)
  await page.getByRole('button', { name: /Start check run/ }).click()
  await expect(
    page.getByRole('alert').filter({ hasText: 'Plug in the data cable beside the video cable' }),
  ).toBeVisible()
  await expect(page.locator('.stage.broke')).toContainText('Ready')
  await demo.fault('dataLink', { display: 'QL-27-04418', on: false })
  await page.getByRole('button', { name: 'Start again' }).click()
  await page.getByRole('button', { name: /Start check run/ }).click()
  await expect(page.getByRole('button', { name: 'Open review' })).toBeVisible({ timeout: 180_000 })
})

test('the courier gone in the middle: the sheet says so, and the run goes on when it is back; stopping puts the slot back @long', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'technician')
  await page.goto(`${demo.url}/runs/new?display=2&kind=full&slot=3`)
  await expect(page.getByText('Slot 3 is empty; nothing is overwritten.')).toBeVisible()
  await page.getByRole('button', { name: 'Start full run into slot 3' }).click()
  await expect(page.locator('.stage.now')).toContainText('Shape', { timeout: 120_000 })
  await demo.fault('courierOffline', { workstation: 'sedge-02', on: true })
  await expect(page.getByRole('alert')).toContainText('The courier on sedge-02 is away')
  await demo.fault('courierOffline', { workstation: 'sedge-02', on: false })
  await expect(page.getByRole('alert')).toHaveCount(0)
  await page.getByRole('button', { name: 'Stop and put back' }).click()
  await page.getByRole('button', { name: 'Stop and put back' }).last().click()
  await expect(page.getByRole('alert')).toContainText('Slot 3 holds nothing again, as before the run.')
})

test('a viewer sees everything and starts nothing', async ({ page, demo }) => {
  await signIn(page, demo, 'viewer')
  await page.goto(`${demo.url}/register/2`)
  await expect(page.getByRole('heading', { name: /Sedge 2/ })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Start full run' })).toHaveCount(0)
  await page.goto(`${demo.url}/runs/new?display=2&kind=check&slot=1`)
  await page.getByRole('button', { name: /Start check run/ }).click()
  await expect(page.getByRole('alert')).toContainText('This needs the role technician')
})
