import { execFile } from 'node:child_process'
import { readFileSync, writeFileSync } from 'node:fs'
import { parseArgs, promisify } from 'node:util'
import { shippedInstrument, shippedPanel, type shippedPanels } from '@bichroma/bench'
import { convertXyzToLab, convertXyzToUv, deltaUv } from '@bichroma/core/color'
import type { Sampling } from '@bichroma/core/runs'
import { formatted } from './formatted'
import { demoAims, demoLimits } from './demoStudio'
import type { doubtSummary } from './trial/doubtTrials'
import { OneDisplayStudio } from './trial/oneDisplayStudio'
import { profileByLittleCms } from './trial/profileError'
import { randomTrials, spread, trialWords, wronglyWithin } from './trial/randomTrials'
import { colorsSeenBy, whiteSeenBy } from './trial/whiteSeenBy'
import { trial, type TrialOptions, type TrialResult } from './trial/trial'

const out = 'docs/accuracy.md'
const seeds = [1, 2, 3, 4, 5]

type PanelName = keyof typeof shippedPanels

/** What is shown, and what it may be at most. Minutes at real pace; ΔE2000; luminance in percent. */
interface Row {
  readonly name: string
  readonly panel: PanelName
  readonly aim: string
  readonly sampling: Sampling
  readonly most: {
    readonly readings: number
    readonly minutes: number
    readonly average: number
    readonly worst: number
    readonly greyChroma?: number
    readonly luminance?: number
  }
  /** The profile's error is judged, not the slot's. */
  readonly byProfile?: true
}

const rows: readonly Row[] = [
  {
    name: 'flagship, 1D+3D, usual',
    panel: 'quillon-q27',
    aim: 'Atlas web',
    sampling: 'usual',
    most: { readings: 220, minutes: 12, average: 0.3, worst: 1.2, greyChroma: 0.3, luminance: 1 },
  },
  {
    name: 'flagship, brief',
    panel: 'quillon-q27',
    aim: 'Atlas web',
    sampling: 'brief',
    most: { readings: 110, minutes: 7, average: 0.45, worst: 2, greyChroma: 0.4, luminance: 1.5 },
  },
  {
    name: 'flagship, deep',
    panel: 'quillon-q27',
    aim: 'Atlas web',
    sampling: 'deep',
    most: { readings: 700, minutes: 35, average: 0.22, worst: 0.9, greyChroma: 0.22, luminance: 1 },
  },
  {
    name: 'older sister, 1D+3×3',
    panel: 'quillon-q24',
    aim: 'Panel wide',
    sampling: 'usual',
    most: { readings: 160, minutes: 12, average: 0.7, worst: 2, greyChroma: 0.35, luminance: 1 },
  },
  {
    name: 'reference, 3D over serial',
    panel: 'marram-m32',
    aim: 'Dome P3',
    sampling: 'usual',
    most: { readings: 700, minutes: 45, average: 0.35, worst: 1.4, greyChroma: 0.35, luminance: 1 },
  },
  {
    name: 'OLED',
    panel: 'vesper-o25',
    aim: 'Dome P3',
    sampling: 'usual',
    most: { readings: 300, minutes: 18, average: 0.35, worst: 1.5, greyChroma: 0.35, luminance: 1.5 },
  },
  {
    name: 'laptop, no tables, table profile',
    panel: 'sorrel-l16',
    aim: 'Panel wide',
    sampling: 'usual',
    most: { readings: 200, minutes: 12, average: 0.35, worst: 1.5 },
    byProfile: true,
  },
]

const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]

async function trialOf(
  panel: PanelName,
  aim: string,
  sampling: Sampling,
  seed: number,
  more: Partial<TrialOptions> = {},
) {
  const result = await trial({
    panel: shippedPanel(panel),
    aim: demoAims[aim],
    instrument: shippedInstrument('tessel-c3'),
    corrected: true,
    sampling,
    seed,
    ...more,
  })
  if (!result.truth) throw new Error(`${panel}, ${sampling}, seed ${seed}: ${result.message}`)
  console.error(
    `${panel}, ${sampling}, seed ${seed}: ${result.readings} readings, ${result.truth.averageDeltaE.toFixed(3)} average`,
  )
  return result as TrialResult & { truth: NonNullable<TrialResult['truth']> }
}
type Found = Awaited<ReturnType<typeof trialOf>>

const over = async (of: (seed: number) => Promise<Found>): Promise<Found[]> => {
  const found: Found[] = []
  for (const seed of seeds) found.push(await of(seed))
  return found
}

/** A figure beside what it may be at most; said when it is more. */
const beside = (value: number, most: number | undefined, digits: number) =>
  most === undefined
    ? '–'
    : `${value.toFixed(digits)} of ${most.toFixed(digits)}${Number(value.toFixed(digits)) > most ? ', **more**' : ''}`

async function lineOf(row: Row): Promise<string> {
  const profile = row.byProfile && ({ version: 4, kind: 'table', black: 'measured', readings: 'prove' } as const)
  const found = await over((seed) => trialOf(row.panel, row.aim, row.sampling, seed, profile ? { profile } : {}))
  const of = (figure: (f: Found) => number) => median(found.map(figure))
  const { most } = row
  const outside = median(found.map((f) => f.truth.outOfReach?.patches ?? 0))
  return [
    row.name,
    beside(
      of((f) => f.readings),
      most.readings,
      0,
    ),
    beside(
      of((f) => f.minutes),
      most.minutes,
      1,
    ),
    beside(
      of((f) => (row.byProfile ? f.profile!.averageDeltaE : f.truth.averageDeltaE)),
      most.average,
      2,
    ),
    beside(
      of((f) => (row.byProfile ? f.profile!.worstDeltaE : f.truth.worstDeltaE)),
      most.worst,
      2,
    ),
    beside(
      of((f) => f.truth.greyChroma.average),
      most.greyChroma,
      2,
    ),
    beside(
      of((f) => Math.abs(f.truth.luminance.offPercent)),
      most.luminance,
      2,
    ),
    outside
      ? `${outside} ${outside === 1 ? 'patch' : 'patches'}, ${median(found.flatMap((f) => f.truth.outOfReach?.worstDeltaE ?? [])).toFixed(1)} at worst`
      : 'none',
  ].join(' | ')
}

const table = (head: readonly string[], lines: readonly string[]) =>
  [`| ${head.join(' | ')} |`, `|${head.map(() => ' --- |').join('')}`, ...lines.map((l) => `| ${l} |`)].join('\n')

async function compare(): Promise<string> {
  const flagship = (sampling: Sampling, more?: Partial<TrialOptions>) => (seed: number) =>
    trialOf('quillon-q27', 'Atlas web', sampling, seed, more)
  const line = (name: string, found: readonly Found[]) =>
    [
      name,
      median(found.map((f) => f.readings)).toFixed(0),
      median(found.map((f) => f.minutes)).toFixed(1),
      median(found.map((f) => f.truth.averageDeltaE)).toFixed(3),
      median(found.map((f) => f.truth.worstDeltaE)).toFixed(2),
      median(found.map((f) => f.truth.greyChroma.average)).toFixed(2),
    ].join(' | ')
  return table(
    ['flagship', 'readings', 'minutes', 'average ΔE', 'worst', 'grey chroma'],
    [
      line('usual', await over(flagship('usual'))),
      line('full grid of 17³, same code', [await flagship('overnight')(1)]),
      line('usual, instrument knocked after 110 readings', await over(flagship('usual', { knockAfter: 110 }))),
      line('refresh 2,000 hours after usual', await over(flagship('usual', { refreshAfterHours: 2000 }))),
    ],
  )
}

/** What is wanted of a profile: against the truth, and of a colour there and back; on average and at worst. */
const ofProfiles = { there: [0.15, 0.6], back: [0.1, 0.5] } as const

/** Table profiles of displays that ship, as Little CMS evaluates them: a full run for each version and seed. */
async function profiles(): Promise<string> {
  const lines: string[] = []
  for (const { name, panel, aim, sampling } of rows.filter((r) => r.sampling === 'usual')) {
    const traits = shippedPanel(panel)
    const instrument = shippedInstrument('tessel-c3')
    const found = { 4: [] as ProfileFound[], 2: [] as ProfileFound[] }
    for (const seed of seeds) {
      const studio = await OneDisplayStudio.open({ panel: traits, aim: demoAims[aim], instrument, seed })
      try {
        await studio.makeCorrection()
        for (const version of [4, 2] as const) {
          const profile = { version, kind: 'table', black: 'measured', readings: 'prove' } as const
          const run = await studio.finish(await studio.start({ sampling, profile }))
          found[version].push(await profileByLittleCms(studio, run.id, seed, traits.signal.bits))
        }
      } finally {
        await studio.close()
      }
    }
    for (const version of [4, 2] as const) {
      const of = (figure: (f: ProfileFound) => number, most: number) =>
        beside(median(found[version].map(figure)), most, 2)
      lines.push(
        [
          `${name.replace(/, (usual|no tables, table profile)$/, '')}, version ${version}`,
          of((f) => f.there.averageDeltaE, ofProfiles.there[0]),
          of((f) => f.there.worstDeltaE, ofProfiles.there[1]),
          of((f) => f.back.averageDeltaE, ofProfiles.back[0]),
          of((f) => f.back.worstDeltaE, ofProfiles.back[1]),
        ].join(' | '),
      )
      console.error(lines.at(-1))
    }
  }
  return `Table profiles as Little CMS evaluates them, against the truth on colours that no run read. No readings are taken for them: they are what Shape found of the panel, through the slot's tables, brought to what Prove read. “There and back”: a colour that the display shows, sent back to a signal and shown.

${table(['display', 'average ΔE', 'worst', 'there and back, average', 'worst'], lines)}`
}
type ProfileFound = Awaited<ReturnType<typeof profileByLittleCms>>

/** What the reference itself is off by at white: no run that is corrected to it can be better, whatever it does. */
function references(): string {
  const heron = shippedInstrument('heron-s1')
  return table(
    ['panel', 'Δu′v′ of white', 'chroma of white', 'colours, average ΔE'],
    rows
      .map((r) => r.panel)
      .filter((name, i, all) => all.indexOf(name) === i)
      .map((name) => {
        const { truth, seen } = whiteSeenBy(heron, shippedPanel(name))
        const [, a, b] = convertXyzToLab(seen, truth)
        return `${name} | ${deltaUv(convertXyzToUv(truth), convertXyzToUv(seen)).toFixed(5)} | ${Math.hypot(a, b).toFixed(2)} | ${colorsSeenBy(heron, shippedPanel(name)).toFixed(2)}`
      }),
  )
}

/** Random panels that are told of, and how many of the worst by name. */
const [randomPanels, named] = [60, 10]
/** The hard edge of the average that runs on random panels are judged by. */
const hardEdge = demoLimits['Plate work'].rules.find((r) => r.metric === 'averageDeltaE')!.hard

/** How errors are spread over panels at random, and the worst of them. */
async function unchosen(): Promise<string> {
  const all = await randomTrials(randomPanels, { tell: (one) => console.error(trialWords(one)) })
  const ended = all.flatMap((t) => (t.error ? [{ ...t, error: t.error }] : []))
  const worst = [...ended].sort((a, b) => b.error.average - a.error.average).slice(0, named)
  const without = all.filter((t) => !t.error)
  const wrong = wronglyWithin(all, hardEdge)
  return `\`npm run -s trial -- --random ${randomPanels}\`: panels at random over what the panel schema allows (\`scripts/trial/randomPanel.ts\`), each with an aim at random, usual sampling. The slot’s error by the truth within the panel’s reach; for displays without tables their profile’s. “Times what is best”: of what the same matrix and curves reach with perfect knowledge of the panel (\`scripts/trial/bestMatrix.ts\`), the median.

${table(
  [
    'what a slot holds',
    'panels',
    'runs that ended',
    'average ΔE, median',
    '95 % up to',
    'times what is best',
    'worst, median',
    '95 % up to',
  ],
  spread(all).map(
    (s) =>
      `${s.kind} | ${s.panels} | ${s.ended} | ${s.median.toFixed(2)} | ${s.most.toFixed(2)} | ${s.ofBest?.toFixed(2) ?? '–'} | ${s.worstMedian.toFixed(2)} | ${s.worstMost.toFixed(2)}`,
  ),
)}

The ${named} worst by their average:

${worst.map((t) => `- ${trialWords(t)}`).join('\n')}

${without.length ? `Without an end, and why:\n\n${without.map((t) => `- ${trialWords(t)}`).join('\n')}\n` : 'Every run came to its end.\n'}
Said within although the truth’s average was past the hard edge of ${hardEdge}: ${wrong.length ? wrong.map(trialWords).join('; ') : 'none'}.`
}

/** Trials of doubt, from a seed that nothing was found by. */
const [doubtful, firstDoubtful] = [300, 3001]

/** How often what runs say of their doubt holds the truth, under instruments at random; in a process beside this one. */
async function honestDoubt(): Promise<string> {
  const args = ['--import', 'tsx', 'scripts/trial.ts', '--json']
  const { stdout } = await promisify(execFile)(
    process.execPath,
    [...args, '--doubt', String(doubtful), '--from', String(firstDoubtful)],
    { maxBuffer: 1e8 },
  )
  const summaries = JSON.parse(stdout) as (ReturnType<typeof doubtSummary> & { correction: string })[]
  const percent = (share: number) => `${(100 * share).toFixed(1)} %`
  const lines = summaries.map((s) =>
    [
      s.correction,
      s.trials,
      percent(s.held),
      `${s.within}, ${s.wronglyWithin} wrongly`,
      s.untold,
      `${s.outside}, ${s.wronglyOutside} wrongly`,
    ].join(' | '),
  )
  return `\`npm run -s trial -- --doubt ${doubtful} --from ${firstDoubtful}\`: brief full runs on panels at random, each read by another instrument at random (\`scripts/trial/randomInstrument.ts\`): its optics by their physics, its certificate and its age, and how it is corrected. Each figure that has limits is held against the truth. Wanted: 92 to 97 % of intervals hold it, and at most one in a hundred verdicts is within, or near edge, where the truth is past a hard edge.

${table(['correction', 'runs that ended', 'figures in their interval', 'within or near edge', 'cannot be told', 'outside'], lines)}`
}

/** The shipped displays, and how their figures are to be read. */
async function shipped(): Promise<string> {
  const lines: string[] = []
  for (const row of rows) lines.push(await lineOf(row))
  return `Made by \`npm run accuracy\`; every figure is the median of full runs with seeds ${seeds.join(', ')}, through the application's own engine and courier messages, with the colorimeter and a correction made on that very display. Judged by the panel's noise-free truth on 300 colours that no run read. “0.12 of 0.30” is what was found, of what it may be at most. ΔE2000; chroma of greys averaged over 33 levels; luminance as percent off the aim; minutes at real pace.

${table(
  [
    'display',
    'readings',
    'minutes',
    'average ΔE',
    'worst',
    'grey chroma',
    'luminance, %',
    'out of the panel’s reach, judged apart',
  ],
  lines,
)}

For the laptop it is the profile's error that counts: a display without tables keeps its own primaries, and its profile says what they are.`
}

/** What is told, in order; the name of each is its heading. */
const sections: Readonly<Record<string, () => string | Promise<string>>> = {
  'How exact runs are': shipped,
  Besides: async () => `${await compare()}\n\nThe full grid is one run; the others are medians as above.`,
  Profiles: profiles,
  'Panels that nobody chose': unchosen,
  'How honest doubt is': honestDoubt,
  'What the reference is off by': () =>
    `White as the spectroradiometer of the bench sees it without noise, against the truth, and colours each under its own white: its wavelengths are off by 0.1 nm. A run corrected to it carries that much, and nothing in a run can know it; a profile that misses by no more than this is as good as its reference.\n\n${references()}`,
}

/** Makes all of it anew, or with `--only NAME` one section; the others stay as they are. */
async function main() {
  const { only } = parseArgs({ options: { only: { type: 'string' } } }).values
  if (only !== undefined && !sections[only]) throw new Error(`Sections are ${Object.keys(sections).join(', ')}.`)
  const before = new Map(
    only === undefined
      ? []
      : readFileSync(out, 'utf8')
          .split(/^#{1,2} /m)
          .map((part) => [part.slice(0, part.indexOf('\n')), part.slice(part.indexOf('\n')).trim()]),
  )
  // It works in a process beside this one.
  const doubt = only === undefined ? honestDoubt() : null
  const parts: string[] = []
  for (const [name, make] of Object.entries(sections)) {
    const mark = parts.length ? '##' : '#'
    const text =
      only !== undefined && name !== only
        ? before.get(name)
        : make === honestDoubt
          ? await (doubt ?? make())
          : await make()
    parts.push(`${mark} ${name}\n\n${text}`)
  }
  const text = `${parts.join('\n\n')}\n`
  writeFileSync(out, await formatted(out, text))
  console.log(text)
}

main().catch((error: Error) => {
  console.error(error)
  process.exit(1)
})
