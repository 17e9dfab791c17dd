import type { DataSource } from 'typeorm'
import { formatDate } from '@bichroma/core/aims'
import { isWithinNight } from '@bichroma/core/rounds'
import { logFault } from '../data/log'
import { studioSettings } from '../studio/settings'
import type { Rollout } from './rollout'
import type { WantedKeeper } from './wantedKeeper'
import type { Waves } from './waves/waves'

/** Wall time between two looks at what is due, ms. */
const lookMs = 10_000
/** Time after which a workstation that told nothing is read back all the same, ms. */
const readBackMs = 30 * 60_000

/** When it was last a time of day (HH:MM) by the server's clock: ms since 1970, not after `now`. */
function lastAt(time: string, now: number): number {
  const date = new Date(now)
  date.setHours(Number(time.slice(0, 2)), Number(time.slice(3)), 0, 0)
  if (date.getTime() > now) date.setDate(date.getDate() - 1)
  return date.getTime()
}

interface ScheduleServices {
  readonly data: DataSource
  readonly rollout: Rollout
  readonly waves: Waves
  readonly wanted: WantedKeeper
  readonly now: () => number
}

/** What rollout does by itself as time goes by: reads back what nobody told of, tries again, ends waves, gathers the night’s profiles. */
export class RolloutSchedule {
  private timer: NodeJS.Timeout | null = null
  private lookedAt: number | null = null
  /** A night is over whose profiles have not been sent. */
  private isMorning = true
  private looking = false

  constructor(private readonly services: ScheduleServices) {}

  start(): void {
    this.timer = setInterval(() => void this.look(), lookMs).unref()
  }

  close(): void {
    if (this.timer) clearInterval(this.timer)
  }

  /** One look; a second one while it lasts is none. */
  async look(readBackAfterMs = readBackMs): Promise<void> {
    if (this.looking) return
    this.looking = true
    try {
      const { rollout, waves, wanted } = this.services
      await wanted.catchUp()
      await this.morning()
      await waves.look()
      await rollout.lookAround(readBackAfterMs)
    } catch (error) {
      logFault('Rollout looked around', error)
    } finally {
      this.looking = false
    }
  }

  /**
   * When a night is over, what was gathered goes in one wave; whoever starts in the day sends what the night left. Ends of
   * nights are reckoned, not watched: a night that has no end, and one through which nobody looked, has its morning too.
   */
  private async morning(): Promise<void> {
    const { data, waves, now } = this.services
    const { night } = await studioSettings(data)
    const at = now()
    if (this.lookedAt !== null && lastAt(night.to, at) > this.lookedAt) this.isMorning = true
    this.lookedAt = at
    const date = new Date(at)
    const isNight = night.from !== night.to && isWithinNight(date.getHours() * 60 + date.getMinutes(), night)
    if (isNight || !this.isMorning) return
    try {
      // By the day that the server's clock shows, as the night is.
      const today = Date.UTC(date.getFullYear(), date.getMonth(), date.getDate())
      await waves.sendGathered(`Fresh profiles, ${formatDate(today)}`)
      this.isMorning = false
    } catch (error) {
      logFault('What the night gathered was to be sent', error)
    }
  }
}
