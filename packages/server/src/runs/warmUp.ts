import { driftPerMinute, warmUpMinutes } from '@bichroma/core/runs'
import type { RunContext } from './context/runContext'
import { RunFailed } from './context/runErrors'

/** Time between two looks at white, ms. */
const betweenMs = 20_000
/** Looks from which a drift can be told, and the span of the newest that it is told from. */
const fewestLooks = 10
/** Change of white's luminance per minute, as a share, under which it holds still. */
const still = 0.001
/** Minutes after which the display is taken for one that never will. */
const mostMinutes = 90

/**
 * Waits for a display that has not been on for long, or does not tell: white is read again and again until its drift per
 * minute is under a bound. A spot run takes the display as it is.
 */
export async function waitForWarmth(context: RunContext, warmMinutes: number | null): Promise<void> {
  if (context.run.kind === 'spot' || (warmMinutes ?? 0) >= warmUpMinutes) return
  const seen: { minutes: number; luminance: number }[] = []
  let minutes = 0
  for (;;) {
    const waitMs = seen.length ? betweenMs : context.readings.delayMs
    const { xyz, tookMs } = await context.readings.read(`White while warming up, ${seen.length + 1}`, [1, 1, 1], {
      waitMs,
    })
    if (seen.length) minutes += tookMs / 60_000
    seen.push({ minutes, luminance: xyz[1] })
    const drift = seen.length < fewestLooks ? null : driftPerMinute(seen.slice(-fewestLooks))
    await context.sheet.note({ warmUp: [...seen] })
    if (drift !== null && Math.abs(drift) <= still) {
      return context.sheet.remark(
        `Warm: white drifts by ${(100 * Math.abs(drift)).toFixed(2)} % a minute, measured over ${minutes.toFixed(0)} min`,
      )
    }
    if (minutes > mostMinutes)
      throw new RunFailed(
        `${context.display.name} does not come to rest: after ${mostMinutes} minutes white still drifts by ${(100 * Math.abs(drift ?? 0)).toFixed(2)} % a minute. See that nothing dims it, and start again.`,
      )
  }
}
