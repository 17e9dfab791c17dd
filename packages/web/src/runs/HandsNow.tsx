import type { ReactNode } from 'react'
import { heldStates, type Ask } from '@bichroma/core/runs'
import type { Condition, RunDetail } from '@bichroma/contract'
import { Plane } from '../parts/Plane'
import { HandDrawing } from './HandDrawings'

/** What each condition of Ready that was not met asks of people. */
const asksOf: Readonly<Record<string, Ask>> = {
  courier: 'courier',
  display: 'display',
  dataLink: 'cable',
  instrument: 'instrument',
  cover: 'cover',
  seat: 'seat',
  gains: 'brightness',
  dynamicContrast: 'brightness',
  signalRange: 'brightness',
  onBattery: 'display',
}

const titles: Readonly<Record<Ask, string>> = {
  courier: 'Start the courier',
  cover: 'Open the instrument’s cover',
  cable: 'Plug the data cable in',
  instrument: 'Plug the instrument in',
  display: 'Switch the display on',
  settings: 'Look at the workstation’s settings',
  seat: 'Seat the instrument',
  rest: 'Let the display come to rest',
  brightness: 'At the display’s own buttons',
  power: 'Switch the display off and on',
  place: 'Lay the instrument on the next place',
  person: 'Somebody is working here',
  light: 'See to the room’s light',
  device: 'The display asks for somebody',
}

/** What stopped the run at Ready: conditions that were not met. */
const unmetOf = (run: RunDetail): readonly Condition[] =>
  run.state === 'failed' && run.stage === 'ready'
    ? run.stages.flatMap((s) => s.conditions ?? []).filter((c) => !c.ok && !c.advisory && c.confirm === undefined)
    : []

/** Whether people are asked for something that stands large on the sheet, in place of charts. */
export const asksHands = (run: RunDetail): boolean =>
  unmetOf(run).length > 0 ||
  (run.asks !== null &&
    heldStates.includes(run.state) &&
    // A chart of its own says where to turn, or where to lay it.
    !(run.asks === 'brightness' && run.stages.some((s) => s.stage === run.stage && s.gauge)) &&
    run.asks !== 'place')

/** What a run that waits for hands, or was stopped at Ready, asks of them: large, with a drawing of what to do. */
export function HandsNow({ run, children }: { run: RunDetail; children?: ReactNode }) {
  const unmet = unmetOf(run)
  if (!unmet.length && run.asks)
    return (
      <Plane className="hands">
        <HandDrawing asks={run.asks} />
        <div>
          <h2>{titles[run.asks]}</h2>
          <p role="alert">{run.message}</p>
          {children}
        </div>
      </Plane>
    )
  const [first, ...others] = unmet
  const asks = asksOf[first.id] ?? 'settings'
  return (
    <Plane className="hands">
      <HandDrawing asks={asks} />
      <div role="alert">
        <h2>{first.remedy ?? titles[asks]}</h2>
        <p>
          {first.label}: {first.found}.
        </p>
        {others.length > 0 && (
          <ul>
            {others.map((c) => (
              <li key={c.id}>
                <b>{c.label}</b>: {c.found}. {c.remedy}
              </li>
            ))}
          </ul>
        )}
        {children}
      </div>
    </Plane>
  )
}
