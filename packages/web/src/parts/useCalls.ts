import { useEffect, useRef } from 'react'
import { usePulse } from '../api/queries'
import { useInterface } from '../theme/useInterface'

/** Whether this browser can call somebody who is not looking at the page. */
export const canCall = () => typeof Notification !== 'undefined'

/** Asks the browser for leave to call; gives whether it was granted. */
export const askToCall = async (): Promise<boolean> =>
  canCall() && (Notification.permission === 'granted' || (await Notification.requestPermission()) === 'granted')

/** Calls the technician by a notification of the browser when a run begins to wait for hands, if they want to be called. */
export function useCalls(): void {
  const wanted = useInterface((s) => s.calls)
  const running = usePulse().data?.running
  const called = useRef(new Set<number>())
  useEffect(() => {
    if (!running) return
    const waiting = running.filter((r) => r.state === 'waiting')
    for (const run of waiting) {
      if (called.current.has(run.runId)) continue
      called.current.add(run.runId)
      if (wanted && canCall() && Notification.permission === 'granted') {
        const { displayName, slot, label, runId } = run
        const call = new Notification(`${displayName} waits for hands`, {
          body: `${label} of slot ${slot}. Open the run sheet for what to do.`,
          tag: `run-${runId}`,
        })
        call.onclick = () => {
          window.focus()
          window.location.assign(`/runs/${runId}`)
        }
      }
    }
    for (const id of called.current) if (!waiting.some((r) => r.runId === id)) called.current.delete(id)
  }, [running, wanted])
}
