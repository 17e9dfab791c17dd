import { Command, Option } from 'commander'
import { standardWhites, convertChromaticityToXyz, type StandardPrimaries, type Triple } from '@bichroma/core/color'
import { samplings, planPartDefinitions } from '@bichroma/core/runs'
import { delta } from './commands/delta'
import { white } from './commands/white'
import { patches } from './commands/patches'
import { buildProfile, checkProfile, showProfile } from './commands/profile'
import { applyTable, buildTable } from './commands/table'
import { judge } from './commands/judge'
import { gamut } from './commands/gamut'
import { verifyLedger } from './commands/ledger'
import { edid } from './commands/edid'
import { convert } from './commands/convert'
import { complain, exitCodes } from './complain'
import type { CliIo } from './io'
import {
  encodingList,
  encodingNames,
  formula,
  numbers,
  numberWithin,
  oneOf,
  scale,
  triple,
  wholeWithin,
} from './options'
import { say, type Answer } from './output'

const d65: Triple = convertChromaticityToXyz(standardWhites.D65, 100)

/** Builds the commands; what each answers goes to `answered`. */
function program(io: CliIo, answered: (answer: Answer) => void, aside: (text: string) => void): Command {
  const root = new Command('bichroma')
    .description('Colour figures, profiles and tables from readings of any instrument.')
    .configureOutput({ writeOut: (text) => io.print(text.trimEnd()), writeErr: aside })
    .exitOverride()
    .helpCommand(false)
  const make = (parent: Command, name: string, summary: string) =>
    parent
      .command(name)
      .description(summary)
      .option('--json', 'print one JSON value instead of tables')
      .exitOverride()
      .configureOutput({ writeOut: (text) => io.print(text.trimEnd()), writeErr: aside })
      .allowExcessArguments(false)
  const withScale = (command: Command) =>
    command.option('--scale <full>', 'what full signal is written as in the readings: 1, 100, 255 or 1023', scale)

  make(root, 'delta', 'colour differences of pairs in a CSV file; adds a column')
    .argument('<pairs.csv>', 'columns L1,a1,b1,L2,a2,b2 or X1,Y1,Z1,X2,Y2,Z2')
    .option('--formula <name>', 'de2000, de94, de76 or deitp', formula, 'de2000')
    .option('--white <X,Y,Z>', 'the white of CIELAB; XYZ in cd/m² for deitp', triple, d65)
    .option('--out <file>', 'write the table with its new column here')
    .action((path, options) => answered(delta(path, options)))

  make(root, 'white', 'a white as xy, u′v′ and temperature')
    .option('--xy <x,y>', 'its chromaticity', numbers(2))
    .option('--cct <kelvin>', 'its correlated colour temperature, 1,667–100,000 K', numberWithin(1667, 100000))
    .option('--duv <distance>', 'from the blackbodies, −0.05 to 0.05', numberWithin(-0.05, 0.05), 0)
    .action((options) => answered(white(options)))

  withScale(make(root, 'patches', 'a set of patches, how many and how long'))
    .option(
      '--plan <parts>',
      `a whole plan (${Object.keys(samplings).join(', ')}) or parts with numbers, as in greys:21,hues:4,natural,fill:100; parts are ${Object.entries(
        planPartDefinitions,
      )
        .map(([name, { label }]) => `${name} (${label})`)
        .join(', ')}`,
    )
    .option('--after <readings>', 'instead: what tells most after these readings')
    .option('--count <n>', 'how many, with --after', wholeWithin(1, 500), 20)
    .option('--seed <n>', 'the same seed gives the same patches', wholeWithin(0, 2 ** 31), 1)
    .option('--luminance <cd/m²>', 'of white, for the minutes', numberWithin(0.1, 10000), 120)
    .option('--settle-ms <ms>', 'until a patch is on screen', numberWithin(0, 60000), 300)
    .option('--fastest-ms <ms>', 'a reading of a bright patch', numberWithin(1, 60000), 400)
    .option('--slowest-ms <ms>', 'a reading of a dark patch, at most', numberWithin(1, 600000), 4000)
    .option('--slow-below <cd/m²>', 'below this luminance readings take longer', numberWithin(0, 1000), 5)
    .option('--out <p.cgats>', 'write them here')
    .action(({ settleMs, fastestMs, slowestMs, slowBelow, ...options }) =>
      answered(patches({ ...options, timing: { settleMs, fastestMs, slowestMs, slowBelow } }, io)),
    )

  const profile = root.command('profile').description('make, show and check ICC profiles').exitOverride()
  withScale(make(profile, 'build', 'an ICC profile from readings'))
    .argument('<readings>', 'CGATS, CSV or CxF')
    .requiredOption('--out <p.icc>', 'write it here')
    .option('--kind <kind>', 'matrix or table', oneOf(['matrix', 'table'] as const), 'matrix')
    .option('--icc <version>', '2 or 4', (t) => Number(oneOf(['2', '4'] as const)(t)), 4)
    .option('--name <text>', 'its description')
    .action((path, options) => answered(buildProfile(path, options, io)))
  make(profile, 'show', 'what a profile holds, down to its tags')
    .argument('<p.icc>')
    .action((path) => answered(showProfile(path)))
  withScale(make(profile, 'check', 'how far a profile’s prediction lies from readings'))
    .argument('<p.icc>')
    .argument('<readings>')
    .action((path, readings, options) => answered(checkProfile(path, readings, options.scale)))

  const table = root.command('table').description('make and apply 3D tables').exitOverride()
  withScale(make(table, 'build', 'a 3D table that brings a display to an aim'))
    .argument('<readings>', 'CGATS, CSV or CxF')
    .requiredOption('--aim <aim.json>', 'what the display shall reach')
    .requiredOption('--out <file>', 'write it here, as .clf or .cube')
    .option('--size <nodes>', 'along each axis, 9–65', wholeWithin(9, 65), 33)
    .addOption(
      new Option('--range <range>', 'of the signal').argParser(oneOf(['full', 'limited'] as const)).default('full'),
    )
    .option(
      '--bits <n>',
      'of the code values, for a limited range: 8, 10, 12 or 16',
      (t) => Number(oneOf(['8', '10', '12', '16'] as const)(t)),
      10,
    )
    .action((path, options) => answered(buildTable(path, options)))
  make(table, 'apply', 'colours or a picture through a table')
    .argument('<table>', '.cube or .clf')
    .requiredOption('--rgb <file>', 'a CSV with columns R,G,B (0–1), or a PNG')
    .requiredOption('--out <file>', 'write the result here')
    .option(
      '--interpolation <kind>',
      'tetrahedral or trilinear; else what the file says, or tetrahedral',
      oneOf(['tetrahedral', 'trilinear'] as const),
    )
    .action((path, options) => answered(applyTable(path, options)))

  withScale(make(root, 'judge', 'readings against an aim and limits; exit code 3 when outside'))
    .argument('<readings>', 'CGATS, CSV or CxF')
    .requiredOption('--aim <aim.json>', 'what the display shall reach')
    .requiredOption('--limits <limits.json>', 'how far it may be off')
    .action((path, options) => answered(judge(path, options)))

  withScale(make(root, 'gamut', 'a display’s gamut against standards'))
    .argument('<readings or p.icc>')
    .option('--against <names>', `of ${Object.keys(encodingNames).join(', ')}, with commas`, encodingList, [
      'sRGB',
      'Display P3',
      'opRGB',
      'BT.2020',
    ] as StandardPrimaries[])
    .action((path, options) => answered(gamut(path, options.against, options.scale)))

  const ledger = root.command('ledger').description('the ledger of a studio’s store or of a backup').exitOverride()
  make(ledger, 'verify', 'finds any entry that was changed, taken out or put in between')
    .argument('<store.sqlite>')
    .action((path) => answered(verifyLedger(path)))

  make(root, 'edid', 'what a display says of itself')
    .argument('<file.bin>')
    .action((path) => answered(edid(path)))

  withScale(make(root, 'convert', 'readings from CxF, CGATS or CSV as CGATS or CSV'))
    .argument('<from>')
    .argument('<to>', '.cgats, .txt or .csv')
    .action((from, to, options) => answered(convert(from, to, io, options.scale)))
  // It asks a server and waits for it: see studio/studio.ts.
  root.command('studio').description('asks a studio’s server: verdicts, runs, profiles, reports').helpOption(false)
  return root
}

/** Runs one command line (without the program's name) and gives its exit code. Never throws on what a person gives. */
export function runCli(args: readonly string[], io: CliIo): number {
  let code: number = exitCodes.fine
  const asJson = args.includes('--json')
  // Complaints are told in one line below; of what commander would say itself only its help is of use.
  let help = ''
  const answered = (answer: Answer) => (code = say(io, answer, asJson))
  try {
    program(io, answered, (text) => (help += text)).parse([...args], { from: 'user' })
    return code
  } catch (error) {
    return complain(error, io, help)
  }
}
