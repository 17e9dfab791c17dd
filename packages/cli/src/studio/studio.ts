import { readFileSync } from 'node:fs'
import { Command } from 'commander'
import type { Verdict } from '@bichroma/core/aims'
import { complain } from '../complain'
import { oneOf, wholeWithin } from '../options'
import { say } from '../output'
import { BadInput, type CliIo } from '../io'
import { ServerProblem, StudioClient } from './client'
import {
  exportTo,
  fetchProfiles,
  listDisplays,
  listDue,
  listNeeds,
  makeBackup,
  place,
  startCheck,
  studioExit,
  verdictOf,
  waitForRun,
  type StudioAnswer,
} from './commands'

/** What the commands touch of the world beside the terminal. */
export interface StudioIo extends CliIo {
  readonly env: Readonly<Record<string, string | undefined>>
  readonly pause: (ms: number) => Promise<void>
}

const fails = ['outside', 'untold', 'lapsed', 'unproven'] as const satisfies readonly Verdict[]
const failList = (text: string) => text.split(',').map((t) => oneOf(fails)(t.trim()))

/** The longest that a run is waited for, minutes. */
const longestWait = 24 * 60

function program(io: StudioIo, does: (work: Promise<StudioAnswer>) => void, aside: (text: string) => void): Command {
  const root = new Command('bichroma studio')
    .description('Asks a studio’s server: verdicts, runs, profiles, reports. Exit codes are for whatever watches.')
    .configureOutput({ writeOut: (text) => io.print(text.trimEnd()), writeErr: aside })
    .exitOverride()
    .helpCommand(false)
  const make = (name: string, summary: string) =>
    root
      .command(name)
      .description(summary)
      .option('--server <url>', 'where the server is; else BICHROMA_SERVER')
      .option(
        '--token <token>',
        'a token made in Your account; better BICHROMA_TOKEN, which nobody else on the machine reads',
      )
      .option('--token-file <file>', 'a file that holds the token')
      .option('--json', 'print one JSON value instead of tables')
      .exitOverride()
      .configureOutput({ writeOut: (text) => io.print(text.trimEnd()), writeErr: aside })
      .allowExcessArguments(false)
  interface Where {
    readonly server?: string
    readonly token?: string
    readonly tokenFile?: string
  }
  const clientOf = ({ server, token, tokenFile }: Where) =>
    new StudioClient(server ?? io.env.BICHROMA_SERVER, token ?? tokenIn(tokenFile) ?? io.env.BICHROMA_TOKEN)
  /** Answers once the client stands; what is wrong with its options is told like any other fault. */
  const ask = (where: Where, work: (client: StudioClient) => Promise<StudioAnswer>): void =>
    does((async () => work(clientOf(where)))())
  const waiting = (minutes: number) => ({ minutes, now: io.now, pause: io.pause })

  make('displays', 'displays in use with their verdicts')
    .option('--room <name>', 'of one room only')
    .option('--verdict <verdict>', 'within, near, outside, lapsed or unproven')
    .option('--search <words>', 'by name, model, serial number or workstation')
    .option('--fail-on <verdicts>', `exit code 3 or 4 when there is one that is ${fails.join(', ')}`, failList, [])
    .action((o) => ask(o, (client) => listDisplays(client, o)))
  make('verdict', 'whether one display can be trusted today; exit code 3 when outside, 4 when lapsed or unproven')
    .argument('<display>', 'its name or serial number')
    .action((name, o) => ask(o, (client) => verdictOf(client, name)))
  make('needs', 'what needs somebody, most pressing first').action((o) => ask(o, listNeeds))
  make('due', 'what falls due, the soonest first')
    .option('--room <name>', 'of one room only')
    .option('--days <n>', 'from today', wholeWithin(0, 730), 7)
    .action((o) => ask(o, (client) => listDue(client, o, io.now())))
  make('check', 'starts a check run')
    .argument('<display>', 'its name or serial number')
    .option('--slot <n>', 'another slot than the one that is shown', wholeWithin(1, 8))
    .option('--begins <when>', 'now, in its turn, or at night', oneOf(['now', 'turn', 'night'] as const), 'now')
    .option(
      '--wait <minutes>',
      'wait for its end, at most so long; its verdict is the exit code',
      wholeWithin(1, longestWait),
    )
    .action((name, o) =>
      ask(o, async (client) => {
        const id = await startCheck(client, name, o)
        if (o.wait === undefined) return { json: { id }, text: [`Run ${id} has been started.`] }
        return waitForRun(client, id, waiting(o.wait))
      }),
    )
  make('wait', 'waits for a run’s end; its verdict is the exit code')
    .argument('<run>', 'its number', wholeWithin(1, Number.MAX_SAFE_INTEGER))
    .option('--minutes <n>', 'at most', wholeWithin(1, longestWait), 60)
    .action((id, o) => ask(o, (client) => waitForRun(client, id, waiting(o.minutes))))
  make('place', 'places the newest profile of a display on its workstation')
    .argument('<display>', 'its name or serial number')
    .action((name, o) => ask(o, (client) => place(client, name)))
  make('profiles', 'fetches the newest profile of every display')
    .requiredOption('--out <folder>', 'write them here')
    .option('--room <name>', 'of one room only')
    .action((o) => ask(o, (client) => fetchProfiles(client, o.out, o)))
  make('export', 'writes the fleet’s report, a run’s report or the inventory to a file')
    .argument('<what>', 'fleet, run or inventory', oneOf(['fleet', 'run', 'inventory'] as const))
    .argument('<file>', 'its ending says the form: .csv, .html, .pdf, for a run also .cgats')
    .option('--run <n>', 'the run', wholeWithin(1, Number.MAX_SAFE_INTEGER))
    .option('--day <day>', 'the fleet as of a day, as in 2026-11-24')
    .action((what, file, o) => ask(o, (client) => exportTo(client, what, file, o)))
  make('backup', 'makes a backup of the studio').action((o) => ask(o, makeBackup))
  return root
}

function tokenIn(file: string | undefined): string | undefined {
  if (file === undefined) return undefined
  try {
    return readFileSync(file, 'utf8').trim()
  } catch {
    throw new BadInput(`${file}: the token cannot be read from it.`)
  }
}

/** Runs one command of `bichroma studio` and gives its exit code. Never throws on what a person gives or a server says. */
export async function runStudio(args: readonly string[], io: StudioIo): Promise<number> {
  let help = ''
  let work: Promise<StudioAnswer> | null = null
  try {
    program(
      io,
      (asked) => {
        work = asked
      },
      (text) => (help += text),
    ).parse([...args], { from: 'user' })
    const answer = await (work as Promise<StudioAnswer> | null)
    if (!answer) return studioExit.fine
    say(io, { ...answer, exitCode: 0 }, args.includes('--json'))
    return answer.exitCode ?? studioExit.fine
  } catch (error) {
    if (error instanceof ServerProblem) {
      io.complain(`bichroma: ${error.message}`)
      return studioExit.noAnswer
    }
    return complain(error, io, help)
  }
}
