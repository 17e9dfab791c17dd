import { join } from 'node:path'
import { runLittleCms, type ColorsForLittleCms } from './runLittleCms'

/** What Little CMS makes of colours through a profile, relative colorimetric: see littleCmsProcess.mjs. */
export const throughLittleCms = (profile: Uint8Array, colors: ColorsForLittleCms) =>
  runLittleCms(join(__dirname, 'littleCmsProcess.mjs'), profile, colors)
