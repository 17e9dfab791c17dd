import { execFileSync } from 'node:child_process'
import { join } from 'node:path'
import type { Triple } from '../color/matrix3'

/** What Little CMS makes of colours through a profile, relative colorimetric: see littleCmsProcess.mjs. */
export const throughLittleCms = (
  profile: Uint8Array,
  colors: { rgb?: readonly Triple[]; lab?: readonly Triple[] },
): { xyz: Triple[]; lab: Triple[]; signal: Triple[] } =>
  JSON.parse(
    execFileSync(process.execPath, [join(__dirname, 'littleCmsProcess.mjs')], {
      input: JSON.stringify({ profile: Buffer.from(profile).toString('base64'), ...colors }),
      maxBuffer: 1 << 26,
    }).toString(),
  )
