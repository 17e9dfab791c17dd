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
  private wasNight: boolean | null = null
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

  /** When the night is over, what was gathered in it goes in one wave. Whoever starts in the day sends what the night left. */
  private async morning(): Promise<void> {
    const { data, waves, now } = this.services
    const { night } = await studioSettings(data)
    const at = new Date(now())
    const isNight = isWithinNight(at.getHours() * 60 + at.getMinutes(), night)
    const was = this.wasNight
    this.wasNight = isNight
    if (isNight || was === false) return
    await waves.sendGathered(`Fresh profiles, ${formatDate(now())}`)
  }
}
