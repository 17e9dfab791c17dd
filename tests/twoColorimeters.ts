import { fenLantern, type Scenario } from '@bichroma/bench'
import { live } from './studio'

/** The colorimeter beside the one that lies at the studio's display. */
export const others = 'TC-0522'

/** Two colorimeters that do not age, of which the second reads so much more light (a share) than the first. */
export const twoColorimeters = (more: number): Scenario => ({
  ...fenLantern,
  instruments: fenLantern.instruments.map((i) =>
    i.serial === live.instrument || i.serial === others
      ? {
          ...i,
          model: {
            ...i.model,
            adjusted: i.serial === others ? [more, more, more] : [0, 0, 0],
            driftPerYear: [0, 0, 0],
          },
        }
      : i,
  ),
})
