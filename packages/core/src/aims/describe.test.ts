import type { Aim } from './aim'
import { describeAim } from './describe'

const aim: Aim = {
  white: { kind: 'standard', name: 'D65' },
  luminance: 120,
  toneResponse: { kind: 'power', exponent: 2.2 },
  primaries: { kind: 'standard', name: 'sRGB' },
}
const shifted = (u: number, v: number): Aim['white'] => ({
  kind: 'by eye',
  of: { kind: 'standard', name: 'D50' },
  u,
  v,
})

test.each<[string, Partial<Aim>]>([
  ['sRGB · D65 · 120 cd/m² · power 2.2', {}],
  ['sRGB · xy 0.3101 0.3162 · 120 cd/m² · power 2.2', { white: { kind: 'xy', x: 0.31006, y: 0.31616 } }],
  ['sRGB · 5,800 K · 120 cd/m² · power 2.2', { white: { kind: 'temperature', kelvin: 5800 } }],
  ['sRGB · panel’s own white · 120 cd/m² · power 2.2', { white: { kind: 'panel' } }],
  ['sRGB · D50 by eye, u′v′ +0.0012 −0.0005 · 120 cd/m² · power 2.2', { white: shifted(0.0012, -0.0005) }],
  ['sRGB · D50 by eye, u′v′ −0.0012 +0.0000 · 120 cd/m² · power 2.2', { white: shifted(-0.0012, 0) }],
  [
    'sRGB · xy 0.3400 0.3500 by eye, u′v′ +0.0000 +0.0030 · 120 cd/m² · power 2.2',
    { white: { kind: 'by eye', of: { kind: 'xy', x: 0.34, y: 0.35 }, u: 0, v: 0.003 } },
  ],
  ['panel’s own primaries · D65 · 120 cd/m² · power 2.2', { primaries: { kind: 'panel' } }],
  [
    'primaries by hand · D65 · 120 cd/m² · power 2.2',
    { primaries: { kind: 'xy', red: { x: 0.6, y: 0.3 }, green: { x: 0.3, y: 0.6 }, blue: { x: 0.15, y: 0.06 } } },
  ],
  ['sRGB · D65 · as bright as it goes, 80 cd/m² or more · power 2.2', { luminance: 80, asBright: true }],
  ['sRGB · D65 · 80 cd/m², following the room · power 2.2', { luminance: 80, fromRoom: true }],
  ['sRGB · D65 · 120 cd/m² · sRGB tone', { toneResponse: { kind: 'sRGB' } }],
  ['sRGB · D65 · 120 cd/m² · L*', { toneResponse: { kind: 'L*' } }],
  ['sRGB · D65 · 120 cd/m² · HLG', { toneResponse: { kind: 'HLG' } }],
  ['sRGB · D65 · 120 cd/m² · curve of 3 points', { toneResponse: { kind: 'curve', points: [0, 0.2, 1] as never } }],
  ['sRGB · D65 · 120 cd/m² · power 2.2', { black: { kind: 'panel' } }],
  ['sRGB · D65 · 120 cd/m² · power 2.2 · black 0.5 cd/m²', { black: { kind: 'fixed', luminance: 0.5 } }],
  ['sRGB · D65 · 120 cd/m² · power 2.2 · black 1.5× the panel’s', { black: { kind: 'relative', factor: 1.5 } }],
])('%s', (line, change) => expect(describeAim({ ...aim, ...change })).toBe(line))
