import { App, Button } from 'antd'

/** Puts a text on the clipboard; `what` begins the sentence that tells of it. */
export function CopyText({ what, text, label }: { what: string; text: string; label: string }) {
  const { message } = App.useApp()
  const copy = () =>
    navigator.clipboard
      .writeText(text)
      .then(() => message.success(`${what} on the clipboard.`))
      .catch(() => message.error('The browser does not let it be copied. Mark it and copy it by hand.'))
  return (
    <Button size="small" onClick={() => void copy()}>
      {label}
    </Button>
  )
}
