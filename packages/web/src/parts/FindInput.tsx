import { Input } from 'antd'
import { useEffect, useRef, useState } from 'react'

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
  const asked = useRef(value)
  // Going back, or a link, may ask for something else.
  if (value !== asked.current) {
    asked.current = value
    if (typed !== value) setTyped(value)
  }
  useEffect(() => {
    if (typed === asked.current) return
    const settled = setTimeout(() => {
      asked.current = typed
      onFind(typed)
    }, settleMs)
    return () => clearTimeout(settled)
  })
  return (
    <Input
      allowClear
      aria-label={label}
      placeholder={placeholder}
      maxLength={80}
      value={typed}
      onChange={(e) => setTyped(e.target.value)}
    />
  )
}
