import { App, Button } from 'antd'
import { ask } from '../api/client'
import { useSend } from '../api/queries'

/** Makes a display show its name and number, so that people see which one it is. */
export function ShowName({ id, name, live }: { id: number; name: string; live: boolean }) {
  const { message } = App.useApp()
  const show = useSend(async () => {
    const { seconds } = await ask<{ seconds: number }>('POST', `/displays/${id}/name`)
    void message.info(`${name} shows its name and number for ${seconds} seconds.`)
  })
  return (
    <Button disabled={!live} loading={show.isPending} onClick={() => show.mutate(undefined)}>
      Show me which
    </Button>
  )
}
