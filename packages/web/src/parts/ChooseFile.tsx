import { App, Button } from 'antd'
import { useRef } from 'react'
import { ApiProblem } from '../api/client'

/**
 * A button that asks for one file; choosing the same file twice is told twice. What is too large, cannot be read or is
 * refused by the server is said, with the file's name.
 */
export function ChooseFile({
  label,
  accept,
  most = 32_000_000,
  onChoose,
  children,
}: {
  /** What the file is, for those who do not see the button. */
  label: string
  /** Extensions and media types, as in the `accept` of an input. */
  accept: string
  /** The most bytes that it may have. */
  most?: number
  onChoose: (file: File) => void | Promise<void>
  children: string
}) {
  const { message } = App.useApp()
  const chooser = useRef<HTMLInputElement>(null)
  const take = async (file: File) => {
    if (file.size > most) return void message.error(`${file.name} is larger than ${most / 1e6} MB.`)
    try {
      await onChoose(file)
    } catch (error) {
      void message.error(error instanceof ApiProblem ? error.message : `${file.name} cannot be read by this browser.`)
    }
  }
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
          if (file) void take(file)
        }}
      />
    </>
  )
}
