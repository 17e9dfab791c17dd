import { readFoundText } from './foundText'
import { foundHead } from './handScripts'

const hash = 'ab'.repeat(32)
const text = (...lines: string[]) => [foundHead, 'host\tdesk-01', ...lines, 'end', ''].join('\n')
const display = (...fields: string[]) => ['display', ...fields].join('\t')

describe('every field at its ends', () => {
  test.each<[string, string]>([
    ['a serial number of 60', text(display('s'.repeat(60), 'p', hash))],
    ['a path of 1000', text(display('s', 'p'.repeat(1000), hash))],
    ['16 displays', text(...Array.from({ length: 16 }, (_, i) => display(`s${i}`, 'p', hash)))],
    ['none', text()],
    ['blanks at the ends of lines', text(`${display('s', 'p', hash)}  \t`)],
    ['as long as it may be', text().padEnd(64 * 1024)],
  ])('%s is taken', (_, printed) => {
    expect(readFoundText(printed).host).toBe('desk-01')
  })

  const host = (line: string) => [foundHead, line, 'end'].join('\n')
  test.each<[string, string, RegExp]>([
    ['a serial number of 61', text(display('s'.repeat(61), 'p', hash)), /must be “display”/],
    ['a path of 1001', text(display('s', 'p'.repeat(1001), hash)), /must be “display”/],
    ['17 displays', text(...Array.from({ length: 17 }, (_, i) => display(`s${i}`, 'p', hash))), /16 displays at most/],
    ['another word', text(`screen\ts\tp\t${hash}`), /^“screen\ts\tp/],
    ['no serial number', text(display('', 'p', hash)), /must be “display”/],
    ['no path', text(display('s', '', hash)), /must be “display”/],
    ['no hash', text(display('s', 'p')), /must be “display”/],
    ['a field too many', text(display('s', 'p', hash, 'x')), /must be “display”/],
    ['a hash with something before it', text(display('s', 'p', `x${hash}`)), /must be “display”/],
    ['a hash with something after it', text(display('s', 'p', `${hash}0`)), /must be “display”/],
    ['a hash in capitals', text(display('s', 'p', hash.toUpperCase())), /must be “display”/],
    ['a display twice', text(display('s', 'p', hash), display('s', '-', '-')), /s is there twice/],
    ['no host line', host(''), /must name the workstation/],
    ['a host without a name', host('host\t'), /must name the workstation/],
    ['a host by another word', host('desk\tdesk-01'), /must name the workstation/],
    ['a host with more', host('host\tdesk-01\tx'), /must name the workstation/],
    ['a host of 61', host(`host\t${'h'.repeat(61)}`), /must name the workstation/],
    ['an end before the head alone', `end\n${foundHead}\nhost\tdesk-01`, /breaks off/],
    ['too long', text().padEnd(64 * 1024 + 1), /longer than what the script prints/],
  ])('%s is refused in a sentence', (_, printed, words) => {
    expect(() => readFoundText(printed)).toThrow(words)
  })

  test('a host of 60 is taken; a line that is refused is told by its beginning', () => {
    expect(readFoundText(host(`host\t${'h'.repeat(60)}`)).host).toHaveLength(60)
    const { message } = (() => {
      try {
        return readFoundText(text('x'.repeat(200))) as never
      } catch (error) {
        return error as Error
      }
    })()
    expect(message.startsWith(`“${'x'.repeat(60)}” must`)).toBe(true)
  })
})

test('a dash is nothing: no profile has no hash either, and a hash may be unknown', () => {
  expect(
    readFoundText(
      text(display('a', '-', hash), display('b', '-', '-'), display('c', 'p', '-'), display('d', 'p', hash)),
    ).displays,
  ).toEqual([
    { serial: 'a', path: null, hash: null },
    { serial: 'b', path: null, hash: null },
    { serial: 'c', path: 'p', hash: null },
    { serial: 'd', path: 'p', hash },
  ])
})
