import { open, type Entry, type ZipFile } from 'yauzl'

/** What a ZIP file holds: bytes by name. */
export const openPromise = (file: string): Promise<Map<string, Buffer>> =>
  new Promise((resolve, reject) =>
    open(file, { lazyEntries: true }, (error, zip: ZipFile) => {
      if (error) return reject(error)
      const held = new Map<string, Buffer>()
      zip.on('entry', (entry: Entry) =>
        zip.openReadStream(entry, (failed, stream) => {
          if (failed) return reject(failed)
          const chunks: Buffer[] = []
          stream.on('data', (chunk: Buffer) => chunks.push(chunk))
          stream.on('end', () => {
            held.set(entry.fileName, Buffer.concat(chunks))
            zip.readEntry()
          })
        }),
      )
      zip.on('end', () => resolve(held))
      zip.readEntry()
    }),
  )
