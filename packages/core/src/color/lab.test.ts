import { converter } from 'culori'
import { uniformFrom } from '../basics/random'
import { convertLabToXyz, convertXyzToLab } from './lab'
import { told } from '../test/told'

const d50 = [0.3457 / 0.3585, 1, (1 - 0.3457 - 0.3585) / 0.3585] as const
const uniform = uniformFrom(2)

test('CIELAB agrees with culori to 1e-9, dark colours included', () => {
  const toLab = converter('lab')
  let most = 0
  for (let i = 0; i < 500; i++) {
    const scale = i % 2 ? 1 : 0.01
    const [x, y, z] = [uniform() * scale, uniform() * scale, uniform() * scale]
    const theirs = toLab({ mode: 'xyz50', x, y, z })!
    const ours = convertXyzToLab([x, y, z], d50)
    most = Math.max(most, Math.abs(ours[0] - theirs.l!), Math.abs(ours[1] - theirs.a!), Math.abs(ours[2] - theirs.b!))
  }
  told('CIELAB against culori', most)
  expect(most).toBeLessThan(1e-9)
})

test('XYZ comes back from CIELAB to 1e-12', () => {
  for (let i = 0; i < 500; i++) {
    const xyz = [uniform() ** 4, uniform() ** 4, uniform() ** 4] as const
    convertLabToXyz(convertXyzToLab(xyz, d50), d50).forEach((v, k) => expect(v).toBeCloseTo(xyz[k], 12))
  }
})

test('the white itself is 100, 0, 0', () => {
  const [L, a, b] = convertXyzToLab(d50, d50)
  expect([L, a, b]).toEqual([100, 0, 0])
})
