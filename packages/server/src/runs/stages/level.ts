import { goesNoFurther, nextLevelStep, turnOf, type Headroom, type LevelTry, type Turn } from '@bichroma/core/runs'
import type { RunContext } from '../context/runContext'
import { RunFailed } from '../context/runErrors'

/** Light asked for above the computed need, so that later steps never lack any: 0.3 % covers what warmth still moves. */
const reserve = 1.003
/** How far above the goal is near enough for hands, whose buttons go in steps. */
const handsBand = 1.025
/** Readings in a row within the band after which hands are taken to be done. */
const steadyReadings = 3
/** Readings without an end after which the gauge rests, so that a forgotten run does not read for ever. */
const mostReadings = 400

/** Readings that the gauge shows. */
const longestGauge = 60

/** The raw white's luminance that the aim needs, cd/m². */
const goalOf = (context: RunContext, headroom: Headroom) => context.run.aim.luminance * headroom.factor * reserve

/**
 * Level: the raw white at the lowest setting that leaves the corrected white at the aim's luminance or just above; or at
 * the highest, for an aim that is as bright as the display goes. By commands where the display obeys them, else by hands.
 */
export async function level(context: RunContext, headroom: Headroom): Promise<void> {
  const control = await context.steps.take('backlight range', async () => ({
    range: context.link.facts.backlight,
    by: context.link.facts.brightnessBy,
  }))
  const evidence =
    control.by === 'hands'
      ? await byHands(context, headroom, control.range)
      : await byCommands(context, headroom, control.range)
  await context.sheet.note({
    endedAt: context.now(),
    evidence: [...evidence, ...(await gainsStay(context))],
  })
}

/** What an aim that is as bright as the display goes comes to, once the brightest raw white is read. Throws when that is too little. */
async function settleBrightest(context: RunContext, headroom: Headroom, luminance: number): Promise<string> {
  const { aim } = context.run
  const most = Math.floor((luminance / headroom.factor / reserve) * 10) / 10
  // A refresh takes what the display has become; a full run was told the least that will do.
  if (context.run.kind === 'full' && most < aim.luminance)
    throw new RunFailed(
      `At its brightest the corrected white reaches ${most.toFixed(1)} cd/m², less than the ${aim.luminance.toFixed(1)} that the aim wants at least. Choose an aim that asks for less.`,
    )
  await context.save({ aim: { ...aim, luminance: most } })
  return `As bright as it goes: ${luminance.toFixed(1)} cd/m² raw, so the aim is ${most.toFixed(1)}`
}

const headroomWords = (context: RunContext, headroom: Headroom, luminance: number) =>
  `${luminance.toFixed(1)} cd/m² raw for an aim of ${context.run.aim.luminance.toFixed(1)}: headroom ${((headroom.factor - 1) * 100).toFixed(0)}\u00a0% for white and colours`

async function byCommands(
  context: RunContext,
  headroom: Headroom,
  range: { min: number; max: number },
): Promise<string[]> {
  const tries: LevelTry[] = []
  const look = async (control: number) => {
    await context.want(`backlight ${control}`, { backlight: control })
    const { xyz } = await context.readings.read(`White at ${control}`, [1, 1, 1], { role: 'white' })
    tries.push({ control, luminance: xyz[1] })
    if (context.light) context.light = { ...context.light, whites: [...tries] }
    return xyz[1]
  }
  if (context.run.aim.asBright) {
    const luminance = await look(range.max)
    return [await settleBrightest(context, headroom, luminance), `Backlight at ${range.max}, the highest`]
  }
  const goal = goalOf(context, headroom)
  let { backlight: control } = await context.steps.take('backlight now', (send) => send('display.getControls', {}))
  for (;;) {
    await look(control)
    const step = nextLevelStep(tries, goal, range)
    if (step.kind === 'unreachable') throw tooDark(context, step.most.luminance / headroom.factor / reserve)
    if (step.kind === 'settled') {
      if (step.at.control !== control)
        await context.want(`backlight ${step.at.control}`, { backlight: step.at.control })
      return [
        headroomWords(context, headroom, step.at.luminance),
        step.asLow
          ? 'The backlight is at its lowest; the tables take the rest of the light away'
          : `Backlight at ${step.at.control}, found in ${tries.length} readings`,
      ]
    }
    control = step.control
  }
}

const tooDark = (context: RunContext, most: number) =>
  new RunFailed(
    `At full backlight the corrected white reaches ${most.toFixed(1)} cd/m²; the aim asks for ${context.run.aim.luminance.toFixed(1)}. Choose an aim of ${Math.floor(most)} cd/m² or less.`,
  )

/** White is read again and again while hands turn the brightness, until it rests within the band. */
async function byHands(
  context: RunContext,
  headroom: Headroom,
  range: { min: number; max: number },
): Promise<string[]> {
  const { display } = context
  if (context.run.aim.asBright) {
    await context.askHands(
      'all the way up',
      'brightness',
      `Turn the brightness of ${display.name} all the way up, then press “Go on”.`,
    )
    const { xyz } = await context.readings.read('White at its brightest', [1, 1, 1], { role: 'white' })
    return [await settleBrightest(context, headroom, xyz[1]), 'Brightness turned by hand']
  }
  const from = goalOf(context, headroom)
  const to = from * handsBand
  const luminances: number[] = []
  let said: Turn | null = null
  for (let n = 1; ; n++) {
    const { xyz } = await context.readings.read(`White by hand, ${n}`, [1, 1, 1], { role: 'white' })
    luminances.push(xyz[1])
    const turn = turnOf(luminances, { from, to, steady: steadyReadings })
    await context.sheet.note({
      gauge: { from, to, luminances: luminances.slice(-longestGauge), turn: turn === 'done' ? 'hold' : turn },
    })
    const newest = xyz[1]
    if ((turn === 'up' || turn === 'down') && luminances.length > 1) {
      const { backlight } = await context.steps.take(`setting ${n}`, (send) => send('display.getControls', {}))
      // Some displays do not tell their setting: whoever turns it knows that it goes no further.
      const atEnd = turn === 'up' ? backlight >= range.max : backlight <= range.min
      if (goesNoFurther(luminances, turn, { said, atEnd, steady: steadyReadings })) {
        if (turn === 'up') throw tooDark(context, newest / headroom.factor / reserve)
        await context.sheet.note({ gauge: { from, to, luminances: luminances.slice(-longestGauge), turn: 'hold' } })
        await context.waits.handsDone()
        return [
          headroomWords(context, headroom, newest),
          'The brightness is at its lowest; the tables take the rest of the light away',
        ]
      }
    }
    if (turn === 'done') {
      await context.waits.handsDone()
      return [headroomWords(context, headroom, newest), `Brightness turned by hand, ${n} readings`]
    }
    if (n % mostReadings === 0)
      await context.askHands(
        `gauge ${n}`,
        'brightness',
        `Nobody has brought the brightness of ${display.name} into the band. Press “Go on” to read again.`,
      )
    else {
      const pressed = await context.handsPressed(
        `hands ${n}`,
        'brightness',
        turn === 'hold'
          ? `${newest.toFixed(1)} cd/m²: leave the brightness of ${display.name} as it is.`
          : `${newest.toFixed(1)} cd/m²: turn the brightness of ${display.name} ${turn}, to between ${from.toFixed(1)} and ${to.toFixed(1)}. If it goes no further ${turn}, press “Go on”.`,
      )
      said = pressed ? turn : null
    }
  }
}

/** Gains in front of the table stay where the factory put them, for the table would work on what they make of the signal. */
async function gainsStay(context: RunContext): Promise<string[]> {
  const { gains } = await context.steps.take('gains', async () => ({ gains: context.link.facts.gains }))
  return gains?.place === 'before' ? [`Gains stay at ${gains.factory}: they sit in front of the table`] : []
}
