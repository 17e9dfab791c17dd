import { AutoComplete, Modal } from 'antd'
import { useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { useDisplays } from '../api/queries'
import { useInterface } from '../theme/useInterface'
import { areas } from './areas'

/** Everything one can go to or start, by typing. */
export function CommandPalette() {
  const { paletteOpen, setPaletteOpen, theme, setTheme } = useInterface()
  const displays = useDisplays().data
  const navigate = useNavigate()
  const [text, setText] = useState('')
  const commands = useMemo(
    () => [
      ...areas.map(({ path, label }) => ({ value: `Go to ${label}`, run: () => void navigate(path) })),
      ...(displays ?? []).flatMap((d) => [
        { value: `Open ${d.name}`, run: () => void navigate(`/register/${d.id}`) },
        { value: `Start run on ${d.name}`, run: () => void navigate(`/runs/new?display=${d.id}`) },
      ]),
      {
        value: theme === 'dark' ? 'Use the light theme' : 'Use the dark theme',
        run: () => setTheme(theme === 'dark' ? 'light' : 'dark'),
      },
    ],
    [displays, navigate, setTheme, theme],
  )
  const close = () => {
    setPaletteOpen(false)
    setText('')
  }
  return (
    <Modal
      open={paletteOpen}
      onCancel={close}
      footer={null}
      closable={false}
      title="Go to, or start"
      destroyOnHidden
      width={480}
      style={{ top: 96 }}
    >
      <AutoComplete
        autoFocus
        defaultActiveFirstOption
        open
        style={{ width: '100%', marginBottom: 280 }}
        aria-label="Command"
        placeholder="Type a name or an action"
        notFoundContent="No command fits."
        value={text}
        onChange={setText}
        options={commands.map(({ value }) => ({ value }))}
        showSearch={{ filterOption: (typed, option) => matches(typed, option?.value ?? '') }}
        getPopupContainer={(node) => node.parentElement!}
        onSelect={(value: string) => {
          close()
          commands.find((c) => c.value === value)?.run()
        }}
      />
    </Modal>
  )
}

/** Every typed word begins a word of the command. */
const matches = (typed: string, command: string) => {
  const words = command.toLowerCase().split(/\s+/)
  return typed
    .toLowerCase()
    .split(/\s+/)
    .filter(Boolean)
    .every((t) => words.some((w) => w.startsWith(t)))
}
