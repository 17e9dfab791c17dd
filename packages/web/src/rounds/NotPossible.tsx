import { Button, Input } from 'antd'
import { useState } from 'react'

/** What keeps people from a display, to be tapped with one thumb. */
const usual = ['Somebody is at work there', 'The room is locked', 'The display is away', 'The instrument does not fit']

/** Says that a visit was not possible, and why. */
export function NotPossible({ disabled, onSaid }: { disabled: boolean; onSaid: (why: string) => void }) {
  const [asking, setAsking] = useState(false)
  const [other, setOther] = useState('')
  if (!asking)
    return (
      <Button size="large" block disabled={disabled} onClick={() => setAsking(true)}>
        Not possible…
      </Button>
    )
  const say = (why: string) => {
    setAsking(false)
    onSaid(why)
  }
  return (
    <div className="whynot" role="group" aria-label="Why is it not possible?">
      {usual.map((why) => (
        <Button key={why} size="large" block onClick={() => say(why)}>
          {why}
        </Button>
      ))}
      <Input
        size="large"
        aria-label="Another reason"
        placeholder="Another reason"
        value={other}
        maxLength={200}
        onChange={(e) => setOther(e.target.value)}
        onPressEnter={() => other.trim().length >= 3 && say(other.trim())}
      />
      <div className="tap pair">
        <Button size="large" onClick={() => setAsking(false)}>
          Back
        </Button>
        <Button size="large" type="primary" disabled={other.trim().length < 3} onClick={() => say(other.trim())}>
          Say so
        </Button>
      </div>
    </div>
  )
}
