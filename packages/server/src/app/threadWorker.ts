import { sumUpDrift } from '../drift/sumUpDrift'
import { stepBack } from '../http/stepBack'
import { lightOfWeeks } from '../register/light/weeksTask'
import { fleetKept, keptCsv, keptMonth, keptWell } from '../rounds/keptTask'
import { makeRounds, roundsWhatIf } from '../rounds/makeRounds'
import { judgeAnew } from '../peers/judgeAnew'
import { peerStanding } from '../peers/peerStanding'
import { judgeImport } from '../review/judgeImport'
import { writeFleetReport, writeRunReport } from '../review/reports'
import { profileBytes } from '../runs/profile/profileBytes'
import { readOwnPatches } from '../runs/readOwnPatches'
import { makeBackup } from '../studio/makeBackup'
import { lookAtPicture } from '../studio/lookAtPicture'

// Whoever asked waits for a report anyway; everybody else waits for the request loop.
stepBack()

/** What the thread can be asked for, by name. */
const tasks: Readonly<Record<string, unknown>> = {
  judgeAnew,
  judgeImport,
  lookAtPicture,
  keptCsv,
  keptMonth,
  fleetKept,
  lightOfWeeks,
  keptWell,
  makeRounds,
  peerStanding,
  profileBytes,
  makeBackup,
  readOwnPatches,
  roundsWhatIf,
  sumUpDrift,
  writeFleetReport,
  writeRunReport,
}

/** The far end of the threads: one task by name. */
export default ({ task, args }: { task: string; args: unknown[] }): unknown => {
  if (!Object.hasOwn(tasks, task)) throw new Error(`The thread knows no task ${task}.`)
  return (tasks[task] as (...a: unknown[]) => unknown)(...args)
}
