import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { commentedConfig, readSettings } from './settings'

const folder = mkdtempSync(join(tmpdir(), 'bichroma-settings-'))
const fileOf = (text: string) => {
  const file = join(folder, `${Math.random()}.conf`)
  writeFileSync(file, text)
  return file
}
const read = (args: string[], env: Record<string, string> = {}) => readSettings(args, env)

test('nothing asked for: the usual, on this machine only', () => {
  expect(read([]).settings).toEqual({
    data: resolve('./data'),
    port: 4610,
    host: '127.0.0.1',
    web: null,
    tlsKey: null,
    tlsCert: null,
    proxy: [],
    open: false,
    sessionHours: 12,
    sessionDays: 14,
    backups: null,
    backupHours: 24,
    backupKeep: 14,
    log: 'warn',
    metricsToken: null,
    smtp: null,
    mailFrom: 'bichroma@localhost',
  })
})

test('a flag comes before the environment, and that before the file', () => {
  const file = fileOf('port = 1001\nhost = 127.0.0.2\n# a comment\nsession-hours = 3\n')
  const env = { BICHROMA_CONFIG: file, BICHROMA_PORT: '1002', BICHROMA_SESSION_HOURS: '4' }
  expect(read(['--port', '1003'], env).settings).toMatchObject({ port: 1003, host: '127.0.0.2', sessionHours: 4 })
  expect(read(['--config', file]).settings).toMatchObject({ port: 1001, sessionHours: 3 })
})

test('the commented file names every setting, and is itself a config file that changes nothing', () => {
  const text = commentedConfig()
  expect(read(['--config', fileOf(text)]).settings).toEqual(read([]).settings)
  const lines = text.split('\n').filter((line) => /^# [a-z-]+ = /.test(line))
  // Taken out of their comments they are still right.
  expect(read(['--config', fileOf(lines.map((line) => line.slice(2)).join('\n'))]).settings).toEqual(read([]).settings)
  expect(lines).toHaveLength(Object.keys(read([]).settings!).length)
})

test.each<[string, string[], string, Record<string, string>, string[]]>([
  ['no number', ['--port', 'abc'], '', {}, ['--port must be a whole number from 0 to 65535; it is “abc”.']],
  ['a port too high', ['--port', '65536'], '', {}, ['--port must be']],
  ['a half port', ['--port', '80.5'], '', {}, ['--port must be']],
  ['a negative port', ['--port=-1'], '', {}, ['--port must be']],
  ['no address', ['--host', 'sedge-02'], '', {}, ['--host must be an address of this machine']],
  ['no folder', ['--data', ' '], '', {}, ['--data must be a path']],
  ['a flag that is none', ['--colour', 'blue'], '', {}, ['--colour', '--print-config']],
  ['a flag without its value', ['--port'], '', {}, ['--port']],
  ['words beside flags', ['demo'], '', {}, ['demo']],
  ['hours by the environment', [], '', { BICHROMA_SESSION_HOURS: '0' }, ['BICHROMA_SESSION_HOURS', 'from 1 to 336']],
  ['too many days', ['--session-days', '365'], '', {}, ['from 1 to 90']],
  ['yes in another language', ['--open', 'ja'], '', {}, ['--open must be yes or no']],
  ['a proxy without an address', ['--proxy', 'nginx'], '', {}, ['--proxy must be addresses or ranges']],
  ['a proxy’s range too narrow', ['--proxy', '10.0.0.0/33'], '', {}, ['--proxy must be']],
  ['a key without a certificate', ['--tls-key', 'a.pem'], '', {}, ['TLS needs both']],
  ['a certificate without a key', ['--tls-cert', 'a.pem'], '', {}, ['TLS needs both']],
  ['the whole network without TLS', ['--host', '0.0.0.0'], '', {}, ['passwords would cross the network unencrypted']],
  ['a setting that is none in the file', [], 'colour = blue', {}, ['“colour” in', 'is no setting']],
  ['a section in the file', [], '[port]\nvalue = 1', {}, ['“port” in', 'must be one line']],
  ['a bad value in the file', [], 'backup-keep = none', {}, ['“backup-keep” (from', 'from 1 to 1000']],
  ['a level that is none', ['--log', 'loud'], '', {}, ['--log must be one of silent, error, warn, info, debug']],
  ['a token to be guessed', ['--metrics-token', 'secret'], '', {}, ['at least 16 characters']],
  ['backups twice a year', ['--backup-hours', '4380'], '', {}, ['from 0 to 720']],
])('%s is told in a sentence', (_what, args, file, env, words) => {
  const asked = read(file ? [...args, '--config', fileOf(file)] : args, env)
  expect(asked.settings).toBeNull()
  for (const word of words) expect(asked.faults.join('\n')).toContain(word)
})

test('a config file that is not there is told, and several faults are told at once', () => {
  expect(read(['--config', join(folder, 'none')]).faults[0]).toContain('cannot be read')
  expect(read(['--port', 'x', '--host', 'y', '--open', 'z']).faults).toHaveLength(3)
})

test.each([
  ['with TLS', ['--tls-key', 'k.pem', '--tls-cert', 'c.pem']],
  ['behind a proxy', ['--proxy', 'loopback, 10.1.0.0/16, fd00::/8']],
  ['or told so', ['--open', 'yes']],
])('it listens to the network %s', (_how, args) => {
  expect(read(['--host', '0.0.0.0', ...args]).settings).not.toBeNull()
})
