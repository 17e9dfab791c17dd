// Writes readings as a run does, and says each once it is stored; until it is killed. Started by tests/powerCut.test.ts.
import { openStore, RunLog } from '@bichroma/server'

void (async () => {
  const data = await openStore(process.argv[2])
  await data.query('PRAGMA foreign_keys = OFF')
  const log = new RunLog(data)
  for (let seq = 0; ; seq++) {
    log.asked(1, seq, `read ${seq}`, seq)
    log.taken(1, seq, { value: seq }, seq, {
      seq,
      stage: 'prove',
      role: 'patch',
      name: `Patch ${seq}`,
      rgb: [1, 1, 1],
      xyz: [95, 100, 108],
      tookMs: 1,
      at: seq,
      deltaE: null,
    })
    process.stdout.write(`${seq}\n`)
  }
})()
