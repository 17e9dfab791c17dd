import { useCallback, useEffect, useRef, useState } from 'react'
import type { PictureAnswer, PictureRequest } from './messages'

type Open = Omit<Extract<PictureRequest, { kind: 'open' }>, 'kind' | 'surfaces'>
type Wish = Pick<Extract<PictureRequest, { kind: 'show' }>, 'picture' | 'left' | 'right' | 'look'>

/** A worker that draws on canvases in the three surfaces of a stage; nothing of it happens on the page's own thread. */
export function usePictureWorker(open: Open) {
  const stage = useRef<HTMLDivElement>(null)
  const worker = useRef<Worker | null>(null)
  const turn = useRef(0)
  const wish = useRef<Wish | null>(null)
  const [answer, setAnswer] = useState<PictureAnswer | null>(null)
  const [shown, setShown] = useState<Extract<PictureAnswer, { kind: 'shown' }> | null>(null)

  const send = useCallback(() => {
    const host = stage.current
    if (!host || !worker.current || !wish.current) return
    const density = Math.min(2, window.devicePixelRatio)
    const [width, height] = [Math.round(host.clientWidth * density), Math.round(host.clientHeight * density)]
    if (!width || !height) return
    const request: PictureRequest = { kind: 'show', turn: ++turn.current, ...wish.current, width, height }
    worker.current.postMessage(request)
  }, [])

  // What is opened does not change while a review is looked at; the page makes a new stage for another.
  const opened = useRef(open)
  useEffect(() => {
    const host = stage.current!
    // A canvas gives its surface away once: a stage that is set up again needs new ones.
    const canvases = [...host.querySelectorAll<HTMLElement>('[data-side]')].map((surface) => {
      const canvas = document.createElement('canvas')
      surface.append(canvas)
      return { side: surface.dataset.side!, canvas }
    })
    const surfaces = Object.fromEntries(
      canvases.map(({ side, canvas }) => [side, canvas.transferControlToOffscreen()]),
    ) as Extract<PictureRequest, { kind: 'open' }>['surfaces']
    const made = new Worker(new URL('./pictureWorker.ts', import.meta.url), { type: 'module' })
    worker.current = made
    made.onmessage = ({ data }: MessageEvent<PictureAnswer>) => {
      if (data.turn !== turn.current) return
      setAnswer(data)
      if (data.kind === 'shown') setShown(data)
    }
    made.onerror = () =>
      setAnswer({ kind: 'failed', turn: turn.current, sentence: 'The picture could not be worked out; open it again.' })
    made.postMessage({ kind: 'open', surfaces, ...opened.current }, Object.values(surfaces))
    const watch = new ResizeObserver(() => send())
    watch.observe(host)
    return () => {
      watch.disconnect()
      made.terminate()
      for (const { canvas } of canvases) canvas.remove()
      worker.current = null
    }
  }, [send])

  const ask = useCallback(
    (next: Wish) => {
      wish.current = next
      send()
    },
    [send],
  )
  return { stage, answer, shown, ask }
}
