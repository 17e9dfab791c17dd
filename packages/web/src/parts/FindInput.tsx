import { Input } from 'antd'
import { useEffect, useState } from 'react'

/** Wall time after the last key, ms, before a list is asked. */
const settleMs = 200

/** Words that a list is searched by; asked once the typing rests. */
export function FindInput({
  value,
  onFind,
  label,
  placeholder,
}: {
  value: string
  onFind: (words: string) => void
  label: string
  placeholder: string
}) {
  const [typed, setTyped] = useState(value)
  const [asked, setAsked] = useState(value)
  const [seen, setSeen] = useState(value)
  // What was asked for here arrives later, when more may be typed; anything else is a link, or going back.
  if (value !== seen) {
    setSeen(value)
    if (value !== asked) {
      setAsked(value)
      setTyped(value)
    }
  }
  useEffect(() => {
    if (typed === asked) return
    const settled = setTimeout(() => {
      setAsked(typed)
      onFind(typed)
    }, settleMs)
    return () => clearTimeout(settled)
  }, [typed, asked, onFind])
  return (
    <Input
      allowClear
      aria-label={label}
      placeholder={placeholder}
      maxLength={80}
      value={typed}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={() => {
        // Whoever goes on is not called back a moment later.
        if (typed === asked) return
        setAsked(typed)
        onFind(typed)
      }}
    />
  )
}
