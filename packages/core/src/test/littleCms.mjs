// Little CMS in a process of its own (its package wants to be an ES module, which the test runner's transform is not).
// Standard input: { profile: base64, rgb: [[r, g, b], …] } with 0–1; standard output: XYZ of each, PCS D50, white Y 1.
import { readFileSync } from 'node:fs'
import {
  BYTES_SH,
  CHANNELS_SH,
  COLORSPACE_SH,
  FLOAT_SH,
  INTENT_RELATIVE_COLORIMETRIC,
  PT_RGB,
  PT_XYZ,
  instantiate,
} from 'lcms-wasm'

/** Three channels of 32-bit floats. */
const floats = (space) => FLOAT_SH(1) | COLORSPACE_SH(space) | CHANNELS_SH(3) | BYTES_SH(4)

const { profile, rgb } = JSON.parse(readFileSync(0, 'utf8'))
const cms = await instantiate()
const bytes = new Uint8Array(Buffer.from(profile, 'base64'))
const opened = cms.cmsOpenProfileFromMem(bytes, bytes.length)
if (!opened) throw new Error('Little CMS cannot open the profile.')
const transform = cms.cmsCreateTransform(
  opened,
  floats(PT_RGB),
  cms.cmsCreateXYZProfile(),
  floats(PT_XYZ),
  INTENT_RELATIVE_COLORIMETRIC,
  0,
)
process.stdout.write(JSON.stringify(rgb.map((c) => [...cms.cmsDoTransform(transform, new Float32Array(c), 1)])))
