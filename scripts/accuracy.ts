import { shippedInstrument, shippedPanel } from '@bichroma/bench'
import { demoAims } from './demoStudio'
import { trial } from './trial/trial'

const seeds = [1, 2, 3, 4, 5]

const digits = {
  readings: 0,
  minutes: 1,
  averageDeltaE: 3,
  worstDeltaE: 2,
  whiteDeltaUv: 5,
  luminanceOff: 2,
  seenAverage: 3,
  seenWorst: 2,
} as const
type Figure = keyof typeof digits
const figures = Object.keys(digits) as Figure[]

/** One full run on the flagship with a seed of its own, judged by the panel's noise-free truth. */
async function once(seed: number): Promise<Record<Figure, number>> {
  const { readings, minutes, truth, seen } = await trial({
    panel: shippedPanel('quillon-q27'),
    aim: demoAims['Atlas web'],
    instrument: shippedInstrument('tessel-c3'),
    corrected: true,
    sampling: 'usual',
    seed,
  })
  return {
    readings,
    minutes,
    averageDeltaE: truth!.averageDeltaE,
    worstDeltaE: truth!.worstDeltaE,
    whiteDeltaUv: truth!.white.deltaUv,
    luminanceOff: Math.abs(truth!.luminance.offPercent),
    seenAverage: seen!.averageDeltaE,
    seenWorst: seen!.worstDeltaE,
  }
}

async function main() {
  const results: (Record<Figure, number> & { seed: string })[] = []
  for (const seed of seeds) results.push({ seed: String(seed), ...(await once(seed)) })
  const median = (f: Figure) => results.map((r) => r[f]).sort((a, b) => a - b)[Math.floor(results.length / 2)]
  console.log(
    `Full runs on the flagship, aim “Atlas web”, judged by the panel's noise-free truth on 300 patches that no run used.`,
  )
  console.log(['seed', ...figures].join('\t'))
  for (const r of results) console.log([r.seed, ...figures.map((f) => r[f].toFixed(digits[f]))].join('\t'))
  console.log(['median', ...figures.map((f) => median(f).toFixed(digits[f]))].join('\t'))
}

main().catch((error: Error) => {
  console.error(error)
  process.exit(1)
})
