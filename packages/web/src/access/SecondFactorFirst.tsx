import { Button } from 'antd'
import { ask } from '../api/client'
import { useSend } from '../api/queries'
import { Entry } from './Entry'
import { SecondFactor } from './SecondFactor'

/** The studio asks for a second factor, and this account has none yet. */
export function SecondFactorFirst() {
  const signOut = useSend(() => ask('DELETE', '/session'))
  return (
    <Entry words="This studio asks for a second factor. Set yours up; then you are in.">
      <SecondFactor isFirst />
      <Button type="text" size="small" onClick={() => signOut.mutate(undefined)}>
        Sign out
      </Button>
    </Entry>
  )
}
