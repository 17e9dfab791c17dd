import { uniformFrom } from '../basics/random'
import { operatingSystemNames } from '../register/operatingSystems'
import { readFoundText } from './foundText'
import { foundHead, handScript } from './handScripts'

const hash = 'a'.repeat(64)
const row = { workstation: 'sedge-01', serial: 'Q-1', fileName: 'Sedge-1.icc', hash }

test('a script’s rows are data: whatever a name holds, it cannot end what holds it', () => {
  for (const workstation of [`'@; Remove-Item`, 'BICHROMA_ROWS', '$(rm -rf /)', '`x`', '"', '日本'])
    for (const system of operatingSystemNames) {
      const { text, name } = handScript(system, [{ ...row, workstation }])
      expect(name).toMatch(/^place-/)
      expect(text.split('\n').filter((line) => line.includes(workstation))).toEqual(
        workstation === 'BICHROMA_ROWS' && system !== 'windows'
          ? [`  cat <<'BICHROMA_ROWS'`, `row\tBICHROMA_ROWS\tQ-1\tSedge-1.icc\t${hash}`, 'BICHROMA_ROWS']
          : expect.arrayContaining([`row\t${workstation}\tQ-1\tSedge-1.icc\t${hash}`]),
      )
    }
})

test.each([
  { ...row, workstation: 'a\nb' },
  { ...row, serial: 'a\tb' },
  { ...row, fileName: '../x.icc' },
  { ...row, fileName: 'x.icc; rm' },
  { ...row, hash: 'x' },
])('%j is no row of a script', (bad) => {
  expect(() => handScript('linux', [bad])).toThrow('holds what a script cannot')
})

test('without rows a script only looks', () => {
  for (const system of operatingSystemNames) {
    const { name, text } = handScript(system, [])
    expect(name).toMatch(/^look-/)
    expect(text).toContain('It changes nothing.')
    expect(text).not.toMatch(/^\s*(cp|bind "|Install)|WcsSetDefaultColorProfile\(\$/m)
  }
})

test('what is printed is read, whatever stands around it', () => {
  const printed = `${foundHead}\nhost\tsedge-01\ndisplay\tQ-1\t/x y/a.icc\t${hash}\ndisplay\tQ-2\t-\t-\ndisplay\tQ-3\t/gone.icc\t-\nend\n`
  const displays = [
    { serial: 'Q-1', path: '/x y/a.icc', hash },
    { serial: 'Q-2', path: null, hash: null },
    { serial: 'Q-3', path: '/gone.icc', hash: null },
  ]
  expect(readFoundText(printed)).toEqual({ host: 'sedge-01', displays })
  expect(readFoundText(`PS C:\\> .\\look\r\n${printed.replaceAll('\n', '\r\n')}PS C:\\> `)).toEqual({
    host: 'sedge-01',
    displays,
  })
  // Run twice into one file: the last counts.
  expect(readFoundText(`${foundHead}\nhost\told\nend\n${printed}`).host).toBe('sedge-01')
})

test('everything else is refused with a sentence; ten thousand damaged ones never with another error @long', () => {
  const good = `${foundHead}\nhost\tsedge-01\ndisplay\tQ-1\t/a.icc\t${hash}\nend`
  for (const [text, words] of [
    ['', 'no line'],
    [good.replace('end', ''), 'breaks off'],
    [good.replace('host\tsedge-01\n', ''), 'must name the workstation'],
    [good.replace(hash, 'abc'), 'must be “display”'],
    [good.replace('end', `display\tQ-1\t-\t-\nend`), 'there twice'],
    [good.replace('end', `${'display\tx\t-\t-\n'.repeat(17)}end`), '16 displays at most'],
    ['x'.repeat(70_000), 'longer than'],
  ])
    expect(() => readFoundText(text)).toThrow(words)
  const uniform = uniformFrom(9)
  for (let n = 0; n < 10_000; n++) {
    const at = Math.floor(uniform() * good.length)
    const damaged =
      good.slice(0, at) + String.fromCharCode(Math.floor(uniform() * 200)) + good.slice(at + Math.floor(uniform() * 4))
    try {
      expect(readFoundText(damaged).displays.length).toBeLessThanOrEqual(2)
    } catch (error) {
      expect(error).toBeInstanceOf(RangeError)
    }
  }
})
