import type { AddressInfo } from 'node:net'
import { SMTPServer } from 'smtp-server'

/** A letter that came in. */
export interface Letter {
  /** UTC, ms since 1970. */
  readonly at: number
  readonly from: string
  readonly to: string
  readonly subject: string
  readonly text: string
}

/** Letters that are kept, the newest; larger ones are refused. */
const [mostLetters, mostBytes] = [500, 1_000_000]

/** Stands in for the studio's mail: takes every letter in, and delivers none. Listens on loopback only. */
export class MailSink {
  readonly letters: Letter[] = []
  /** Refuses what comes, as a mail server that is out of order does. */
  broken = false
  private readonly server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS'],
    size: mostBytes,
    onMailFrom: (_address, _session, done) =>
      done(this.broken ? new Error('The mail stand-in is out of order.') : null),
    onData: (stream, _session, done) => {
      // It is large, and few benches are written to.
      const read = import('mailparser').then(({ simpleParser }) => simpleParser(stream))
      read.then(
        ({ from, to, subject, text }) => {
          this.letters.push({
            at: Date.now(),
            from: from?.text ?? '',
            to: [to]
              .flat()
              .map((t) => t?.text)
              .join(', '),
            subject: subject ?? '',
            text: text ?? '',
          })
          this.letters.splice(0, this.letters.length - mostLetters)
          done()
        },
        (error: Error) => done(error),
      )
    },
  })

  /** Begins to listen; 0 for any free port. Its address, as smtp://…. */
  listen(port = 0): Promise<string> {
    return new Promise((resolve, reject) => {
      this.server.on('error', reject)
      this.server.listen(port, '127.0.0.1', () =>
        resolve(`smtp://127.0.0.1:${(this.server.server.address() as AddressInfo).port}`),
      )
    })
  }

  close(): Promise<void> {
    return new Promise((resolve) => this.server.close(() => resolve()))
  }
}

const escape = (text: string) =>
  text.replaceAll(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!)

/** Letters as a page, the newest first. */
export const mailPage = (
  letters: readonly Letter[],
): string => `<!doctype html><meta charset="utf-8"><title>Bench mail</title>
<style>body{margin:0;padding:12px 16px;font:13px/1.5 monospace;background:#e9e9e9;color:#111}
article{border-top:1px solid #777;padding:8px 0}pre{margin:4px 0;white-space:pre-wrap;font:inherit}
.stand-in{background:#111;color:#fff;padding:6px 10px}</style>
<p class="stand-in">Stand-in for a mail server: letters come in here and go nowhere.</p>
${
  letters.length
    ? [...letters]
        .reverse()
        .map(
          (l) =>
            `<article><b>${escape(l.subject)}</b><br>to ${escape(l.to)}, from ${escape(l.from)}, ${new Date(l.at).toISOString().slice(0, 16).replace('T', ' ')} UTC<pre>${escape(l.text)}</pre></article>`,
        )
        .join('\n')
    : '<p>No letter has come yet.</p>'
}`
