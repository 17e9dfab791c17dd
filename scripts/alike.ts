import { writeFileSync } from 'node:fs'
import { shippedInstrument, shippedPanel, type shippedPanels } from '@bichroma/bench'
import type { Aim } from '@bichroma/core/aims'
import { uniformFrom } from '@bichroma/core/basics'
import { convertChromaticityToXyz, standardWhites, type PatchReading, type Triple } from '@bichroma/core/color'
import {
  aimOfGround,
  commonGround,
  howAlike,
  isGround,
  peerFigures,
  type Alike,
  type CommonGround,
  type MemberLight,
  type PeerFigure,
} from '@bichroma/core/peers'
import { formatted } from './formatted'
import { OneDisplayStudio, serials } from './trial/oneDisplayStudio'
import { firstAlarm } from './trial/alarmTrials'
import { pairCases, pairSummary, pairTrials } from './trial/pairTrials'

const out = 'docs/alike.md'
const seed = 1

type PanelName = keyof typeof shippedPanels

/** Sets that must look alike, of displays that ship on the bench. */
const sets: readonly { readonly name: string; readonly members: readonly PanelName[] }[] = [
  { name: 'a pen display beside a flagship', members: ['quillon-q27', 'tarn-pen-22'] },
  { name: 'a suite', members: ['quillon-q27', 'vesper-o25', 'marram-m32'] },
  { name: 'a row of desks', members: ['quillon-q27', 'ostrel-reed-24', 'tarn-pen-22', 'vesper-o25'] },
  { name: 'a wall', members: ['quillon-q27', 'ostrel-reed-24', 'tarn-pen-22', 'vesper-o25', 'marram-m32'] },
  {
    name: 'a studio’s kinds',
    members: ['quillon-q27', 'ostrel-reed-24', 'tarn-pen-22', 'vesper-o25', 'marram-m32', 'vesper-w48', 'wren-f7'],
  },
  {
    name: 'the same with a second flagship',
    members: [
      ...['quillon-q27', 'ostrel-reed-24', 'tarn-pen-22', 'vesper-o25', 'marram-m32', 'vesper-w48', 'wren-f7'],
      'quillon-q27',
    ] as PanelName[],
  },
]

/** What each is calibrated to alone: a standard for wide gamuts, of which some here have less. */
const alone: Aim = {
  white: { kind: 'standard', name: 'D65' },
  luminance: 160,
  toneResponse: { kind: 'power', exponent: 2.2 },
  primaries: { kind: 'standard', name: 'Display P3' },
}
const most = { average: 0.5, deltaUv: 0.001 }

/** Patches that no run reads: greys, and colours anywhere. */
const uniform = uniformFrom(41)
const patches: Triple[] = [
  ...[0.05, 0.1, 0.2, 0.35, 0.5, 0.65, 0.8, 0.9, 1].map((v): Triple => [v, v, v]),
  ...Array.from({ length: 90 }, (): Triple => [uniform(), uniform(), uniform()]),
]

/** A member on the bench, with the one instrument and its correction for it. */
class Member {
  private aims = 0

  private constructor(
    readonly id: number,
    readonly panel: PanelName,
    private readonly studio: OneDisplayStudio,
  ) {}

  /** The panel’s own seed tells two of a model apart; the instrument is the same for all. */
  static async open(id: number, panel: PanelName): Promise<Member> {
    const studio = await OneDisplayStudio.open({
      ...{ panel: shippedPanel(panel), aim: alone, instrument: shippedInstrument('tessel-c3'), seed: seed + id },
    })
    await studio.makeCorrection()
    return new Member(id, panel, studio)
  }

  /** Its light as a baseline reads it at its brightest. */
  async light(): Promise<MemberLight> {
    const { display } = this.studio
    const { max, by } = display.traits.panel.control
    if (by === 'hands') display.press({ backlight: max })
    else await display.setControls({ backlight: max })
    const run = await this.studio.finish(await this.studio.start({ kind: 'baseline' }))
    const of = (rgb: Triple) => run.log.find((p) => p.stage === 'baseline' && p.rgb.every((v, i) => v === rgb[i]))!.xyz
    const black = of([0, 0, 0])
    return {
      ...{ id: this.id, white: of([1, 1, 1]), black },
      ...{ red: of([1, 0, 0]), green: of([0, 1, 0]), blue: of([0, 0, 1]) },
      ...{ blackFollows: true, fadePerDay: null, daysUntilDue: 28 },
    }
  }

  /** What it truly shows once it is calibrated to an aim. */
  async shows(aim: Aim): Promise<PatchReading[]> {
    const name = `Alike ${++this.aims}`
    const { id: aimId } = await this.studio.client.post<{ id: number }>('/aims', { name, aim })
    const run = await this.studio.finish(await this.studio.start({ sampling: 'usual', aimId }))
    if (run.state !== 'done') throw new Error(`${this.panel}: ${run.message}`)
    return this.studio.bench
      .truth(serials.display, patches)
      .map((xyz, i) => ({ name: patches[i].map((v) => Math.round(100 * v)).join(' '), rgb: patches[i], xyz }))
  }

  close = () => this.studio.close()
}

const figures = ({ pairs }: Alike) => ({
  average: Math.max(...pairs.map((p) => p.average)),
  worst: Math.max(...pairs.map((p) => p.worst.deltaE)),
  deltaUv: Math.max(...pairs.map((p) => p.white.deltaUv)),
  luminance: 100 * Math.max(...pairs.map((p) => Math.abs(p.white.luminance))),
})

/** The aim of a set, as the product makes it: each keeps its own black, for not every slot can lift it. */
const aimOf = (ground: CommonGround): Aim =>
  aimOfGround({ ...ground, black: null }, { white: alone.white, toneResponse: alone.toneResponse })

interface Row {
  readonly name: string
  readonly members: number
  readonly ground: CommonGround
  readonly before: ReturnType<typeof figures>
  readonly after: ReturnType<typeof figures>
}

async function rowOf({ name, members: panels }: (typeof sets)[number]): Promise<Row> {
  const members: Member[] = []
  try {
    for (const [i, panel] of panels.entries()) members.push(await Member.open(i + 1, panel))
    const lights: MemberLight[] = []
    for (const member of members) lights.push(await member.light())
    const ground = commonGround(lights, {
      ...{ white: standardWhites.D65, standard: 'Display P3', share: 0.99, headroom: 0.03 },
    })
    if (!isGround(ground)) throw new Error(`${name}: ${JSON.stringify(ground)}`)
    const alike = async (aim: Aim) => {
      const shown = []
      for (const member of members) shown.push({ id: member.id, readings: await member.shows(aim) })
      return figures(howAlike(shown, convertChromaticityToXyz(standardWhites.D65, aim.luminance)))
    }
    const row = { name, members: members.length, ground, before: await alike(alone), after: await alike(aimOf(ground)) }
    console.error(
      `${name}: ${row.before.average.toFixed(2)} apart at most alone, ${row.after.average.toFixed(2)} on common ground of ${Math.floor(ground.luminance)} cd/m²`,
    )
    return row
  } finally {
    for (const member of members) await member.close()
  }
}

const xy = ({ x, y }: { x: number; y: number }) => `${x.toFixed(3)} ${y.toFixed(3)}`
const groundWords = ({ luminance, standard, primaries }: CommonGround) =>
  `${Math.floor(luminance)} cd/m², ${standard ?? `red ${xy(primaries.red)}, green ${xy(primaries.green)}, blue ${xy(primaries.blue)}`}`
/** Who holds back what, of more than two. */
function holdsBack({ ground }: Row, panels: readonly PanelName[]): string {
  if (panels.length < 3) return '–'
  const of = (what: 'luminance' | 'gamut') =>
    ground.members.reduce((most, m) => (m.without[what] > most.without[what] ? m : most))
  const [light, gamut] = [of('luminance'), of('gamut')]
  const more = (by: number) => `${Math.round(100 * (by - 1))} %`
  return [
    light.without.luminance > 1.01 &&
      `light: ${panels[light.id - 1]} (${more(light.without.luminance)} more without it)`,
    gamut.without.gamut > 1.01 && `gamut: ${panels[gamut.id - 1]} (${more(gamut.without.gamut)} more)`,
  ]
    .filter(Boolean)
    .join('; ')
}
const beside = (value: number, limit: number, digits: number) =>
  `${value.toFixed(digits)} of ${limit.toFixed(digits)}${value > limit ? ', **more**' : ''}`

/** Pairs at random by which doubt about differences is held against the truth, and how many intervals shall hold it. */
const pairs = 500
const shallHold = { least: 0.92, most: 0.97, widest: 1.3 }
const pairFigures: Readonly<Record<PeerFigure, { name: string; digits: number }>> = {
  average: { name: 'average, ΔE2000', digits: 2 },
  white: { name: 'white, Δu′v′', digits: 4 },
  luminance: { name: 'luminance, %', digits: 2 },
}

function doubtLines(): { lines: string[]; good: boolean } {
  const trials = pairTrials(pairs, (done) => console.error(`${done} of ${pairs} pairs`))
  const percent = (share: number) => `${(100 * share).toFixed(1)} %`
  const all = peerFigures.map((figure) => ({ figure, ...pairSummary(trials, figure) }))
  const good = all.every(
    ({ held, width, ideal }) => held >= shallHold.least && held <= shallHold.most && width <= shallHold.widest * ideal,
  )
  const classes = pairCases.flatMap((of) =>
    [true, false].flatMap((alike) => {
      const some = trials.filter((t) => t.of === of && t.alike === alike)
      return some.length ? [{ name: `${of}, ${alike ? 'one kind of panel' : 'two kinds'}`, some }] : []
    }),
  )
  return {
    good,
    lines: [
      '## How certain differences are',
      '',
      `${pairs} pairs of panels at random, of one kind or of two, brought to one aim by instruments at random (gratings, filters, certificates and their age as in [accuracy.md](accuracy.md#how-honest-doubt-is)), an hour before and an hour after the moment that is told of. 95 intervals of 100 (\`core/peers/pairDoubt.ts\`) should hold the truth. Ideal is the range that holds 95 of 100 errors of all those pairs.`,
      '',
      '| figure | hold the truth | mean width | ideal | times |',
      '| --- | --- | --- | --- | --- |',
      ...all.map(({ figure, held, width, ideal }) => {
        const { name, digits } = pairFigures[figure]
        return `| ${name} | ${percent(held)} | ${width.toFixed(digits)} | ${ideal.toFixed(digits)} | ${(width / ideal).toFixed(2)} |`
      }),
      '',
      `By how the two are read: share of intervals that hold the truth, and their width beside the range of errors of that row alone.`,
      '',
      '| read by | pairs | average | white | luminance |',
      '| --- | --- | --- | --- | --- |',
      ...classes.map(({ name, some }) => {
        const cells = peerFigures.map((figure) => {
          const { held, width, ideal } = pairSummary(some, figure)
          return `${percent(held)}, ${(width / ideal).toFixed(1)} ×`
        })
        return `| ${name} | ${some.length} | ${cells.join(' | ')} |`
      }),
      '',
    ],
  }
}

/** Fleets that are well for a year, and fleets of which one instrument drifts by 1 % in so many days. */
const fleets = { well: 60, drifting: 30, share: 0.01, from: 30, quarter: 92 }
const driftsIn: readonly { readonly name: string; readonly days: number }[] = [
  { name: 'at once', days: 1 },
  { name: 'within a month', days: 30 },
  { name: 'within three months', days: 90 },
]

function alarmLines(): { lines: string[]; good: boolean } {
  const usual = 0.6
  const false_ = Array.from({ length: fleets.well }, (_, i) => {
    if (i % 10 === 0) console.error(`${i} of ${fleets.well} fleets that are well`)
    return firstAlarm({ seed: i + 1, drifts: null, usual }) !== null
  }).filter(Boolean).length
  const found = driftsIn.map(({ name, days }) => {
    const all = Array.from({ length: fleets.drifting }, (_, i) => {
      const drifts = {
        ...{ instrument: 1 + (i % 4), from: fleets.from, days },
        share: i % 2 ? fleets.share : -fleets.share,
      }
      const told = firstAlarm({ seed: 1000 + i, drifts, usual }, fleets.from + fleets.quarter)
      return told?.instrument === drifts.instrument && told.day >= fleets.from ? told.day - fleets.from : null
    })
    console.error(`drift ${name}: found ${all.filter((d) => d !== null).length} of ${fleets.drifting}`)
    return { name, days: all.filter((d) => d !== null).sort((a, b) => a - b) }
  })
  const median = (days: readonly number[]) => (days.length ? `${days[days.length >> 1]} days` : '–')
  return {
    good: false_ * 20 <= fleets.well && found.slice(0, 2).every(({ days }) => days.length >= 0.9 * fleets.drifting),
    lines: [
      '## Instruments, from ordinary work',
      '',
      `Fen & Lantern’s 34 displays as the bench has them (ageing, moods of the day), checked every four weeks by four instruments that each are off by a constant, six checks of ten by the instrument of their room, calibrated anew every seven months. Looked at once a week for a year (\`core/drift/instrumentChange.ts\`): of ${fleets.well} fleets that are well, ${false_} ${false_ === 1 ? 'rings' : 'ring'} an alarm (one of twenty wanted at most). Of ${fleets.drifting} fleets of which one instrument drifts by ${100 * fleets.share} %:`,
      '',
      '| drifts by 1 % | found within three months of its beginning | half of them within |',
      '| --- | --- | --- |',
      ...found.map(({ name, days }) => `| ${name} | ${days.length} of ${fleets.drifting} | ${median(days)} |`),
      '',
      'Nine of ten are wanted. One that takes all of three months is off by the whole of it only at their end.',
      '',
    ],
  }
}

async function main() {
  const doubt = doubtLines()
  const alarms = alarmLines()
  const rows: Row[] = []
  for (const set of sets) rows.push(await rowOf(set))
  const lines = [
    '# Alike',
    '',
    `Made by \`npm run -s alike\`: sets of displays of the bench, all read with one colorimeter and a correction made on each. Alone: each is calibrated to ${alone.luminance} cd/m², D65, power 2.2, Display P3, or as near as it comes. On common ground (\`core/peers/commonGround.ts\`): each is read at its brightest, the aim that all reach is worked out, and each is calibrated to that. Figures are those of the pair that is furthest apart, by the panels’ noise-free truth on ${patches.length} colours that no run read; ΔE2000 under the set’s white.`,
    '',
    '| set | members | | average | worst | white, Δu′v′ | luminance, % |',
    '| --- | --- | --- | --- | --- | --- | --- |',
    ...rows.flatMap(({ name, members, before, after }) => [
      `| ${name} | ${members} | alone | ${before.average.toFixed(2)} | ${before.worst.toFixed(1)} | ${before.deltaUv.toFixed(4)} | ${before.luminance.toFixed(1)} |`,
      `| | | common ground | ${beside(after.average, most.average, 2)} | ${after.worst.toFixed(2)} | ${beside(after.deltaUv, most.deltaUv, 4)} | ${after.luminance.toFixed(1)} |`,
    ]),
    '',
    '## The ground they have',
    '',
    '| set | common ground | who holds it back |',
    '| --- | --- | --- |',
    ...rows.map((row, i) => `| ${row.name} | ${groundWords(row.ground)} | ${holdsBack(row, sets[i].members)} |`),
    '',
    'What the ground may be is held against brute force on 200 random sets (`commonGround.test.ts`): it is never above what a member reaches, its light is within 1 % of the most, and its gamut within 1 % of the largest triangle that lies in all of them.',
    '',
    ...doubt.lines,
    ...alarms.lines,
  ]
  const text = await formatted(out, lines.join('\n'))
  writeFileSync(out, text)
  console.log(text)
  const isFar = rows.some(({ after }) => after.average > most.average || after.deltaUv > most.deltaUv)
  if (isFar || !doubt.good || !alarms.good) process.exitCode = 1
}

await main()
process.exit()
