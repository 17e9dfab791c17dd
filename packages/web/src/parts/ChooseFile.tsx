import { Button } from 'antd'
import { useRef } from 'react'

/** A button that asks for one file; choosing the same file twice is told twice. */
export function ChooseFile({
  label,
  accept,
  onChoose,
  children,
}: {
  /** What the file is, for those who do not see the button. */
  label: string
  /** Extensions and media types, as in the `accept` of an input. */
  accept: string
  onChoose: (file: File) => void
  children: string
}) {
  const chooser = useRef<HTMLInputElement>(null)
  return (
    <>
      <Button onClick={() => chooser.current?.click()}>{children}</Button>
      <input
        ref={chooser}
        type="file"
        hidden
        accept={accept}
        aria-label={label}
        onChange={(e) => {
          const file = e.target.files?.[0]
          e.target.value = ''
          if (file) onChoose(file)
        }}
      />
    </>
  )
}
