// Little CMS in a process of its own (its package wants to be an ES module, which the test runner's transform is not).
// Standard input: { profile: base64, rgb?: [[r, g, b], …] of 0–1, lab?: [[L, a, b], …] under D50 }; standard output:
// { xyz, lab, signal }: XYZ (PCS D50, white Y 1) and CIELAB of each colour, and the signal of each CIELAB colour.
import { readFileSync } from 'node:fs'
import {
  BYTES_SH,
  CHANNELS_SH,
  COLORSPACE_SH,
  FLOAT_SH,
  INTENT_RELATIVE_COLORIMETRIC,
  PT_Lab,
  PT_RGB,
  PT_XYZ,
  cmsFLAGS_NOOPTIMIZE,
  instantiate,
} from 'lcms-wasm'

/** Three channels of 32-bit floats. */
const floats = (space) => FLOAT_SH(1) | COLORSPACE_SH(space) | CHANNELS_SH(3) | BYTES_SH(4)

const { profile, rgb = [], lab = [] } = JSON.parse(readFileSync(0, 'utf8'))
const cms = await instantiate()
const bytes = new Uint8Array(Buffer.from(profile, 'base64'))
const opened = cms.cmsOpenProfileFromMem(bytes, bytes.length)
if (!opened) throw new Error('Little CMS cannot open the profile.')
const xyzSpace = cms.cmsCreateXYZProfile()
const labSpace = cms.cmsCreateLab4Profile(null)
const through = (from, fromSpace, to, toSpace, colors) => {
  if (!colors.length) return []
  const transform = cms.cmsCreateTransform(
    from,
    floats(fromSpace),
    to,
    floats(toSpace),
    INTENT_RELATIVE_COLORIMETRIC,
    cmsFLAGS_NOOPTIMIZE,
  )
  if (!transform) throw new Error('Little CMS cannot make the transform.')
  return colors.map((c) => [...cms.cmsDoTransform(transform, new Float32Array(c), 1)])
}
process.stdout.write(
  JSON.stringify({
    xyz: through(opened, PT_RGB, xyzSpace, PT_XYZ, rgb),
    lab: through(opened, PT_RGB, labSpace, PT_Lab, rgb),
    signal: through(labSpace, PT_Lab, opened, PT_RGB, lab),
  }),
)
