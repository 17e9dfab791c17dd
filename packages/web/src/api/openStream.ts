/** Time after which a stream that was refused is opened again, ms. */
const againMs = 2000

export interface StreamListener {
  readonly onOpen: () => void
  readonly onMessage: (data: string) => void
  /** The server, or what stands before it, answered with something else than a stream. */
  readonly onRefused: () => void
}

/**
 * Listens to server-sent events for good. A browser comes back by itself after a break, but gives up for ever once it is
 * answered with anything else than a stream, as while a server behind a proxy starts: then the stream is opened anew.
 * Gives what closes it.
 */
export function openStream(
  address: string,
  { onOpen, onMessage, onRefused }: StreamListener,
  Source: typeof EventSource = EventSource,
): () => void {
  let again: ReturnType<typeof setTimeout> | undefined
  let source: EventSource
  const open = () => {
    source = new Source(address)
    source.onopen = onOpen
    source.onmessage = ({ data }) => onMessage(data as string)
    source.onerror = () => {
      if (source.readyState !== Source.CLOSED) return
      onRefused()
      again = setTimeout(open, againMs)
    }
  }
  open()
  return () => {
    clearTimeout(again)
    source.close()
  }
}
