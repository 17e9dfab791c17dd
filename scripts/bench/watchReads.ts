// Reads one address after another until its input ends, then prints how long each took, ms: in a process of its own, so that
// whoever makes the load beside it does not hold it up. `watchReads.ts URL COOKIE PATH…`
const [url, cookie, ...paths] = process.argv.slice(2)
const took: number[] = []
let watching = true
process.stdin.on('end', () => (watching = false)).resume()
for (let i = 0; watching; i++) {
  const asked = performance.now()
  const response = await fetch(`${url}/api${paths[i % paths.length]}`, { headers: { cookie } })
  await response.arrayBuffer()
  if (!response.ok) throw new Error(`${paths[i % paths.length]}: ${response.status}`)
  took.push(performance.now() - asked)
}
process.stdout.write(JSON.stringify(took))

export {}
