/** Entries that are written at a time: a few milliseconds' worth. */
const blockSize = 1000

/** A long list as JSON, written block by block so that others are answered in between. */
export async function jsonInBlocks(list: readonly unknown[]): Promise<string> {
  const blocks: string[] = []
  for (let start = 0; start < list.length; start += blockSize) {
    if (start) await new Promise((resolve) => setImmediate(resolve))
    blocks.push(JSON.stringify(list.slice(start, start + blockSize)).slice(1, -1))
  }
  return `[${blocks.join(',')}]`
}
