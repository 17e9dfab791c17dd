import { AutoComplete, Modal } from 'antd'
import { useDeferredValue, useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import type { DisplayListing } from '@bichroma/contract'
import { useList } from '../api/lists'
import { useSession } from '../api/queries'
import { useInterface } from '../theme/useInterface'
import { areasFor } from './areas'

/** Everything one can go to or start, by typing. */
export function CommandPalette() {
  const { paletteOpen, setPaletteOpen, theme, setTheme } = useInterface()
  const navigate = useNavigate()
  const role = useSession().data?.account?.role
  const [text, setText] = useState('')
  const { items: displays } = useList<DisplayListing>('/displays', {
    search: namesOf(useDeferredValue(text)),
    limit: 20,
  })
  const commands = useMemo(
    () => [
      ...areasFor(role).map(({ path, label }) => ({
        value: `Go to ${label}`,
        run: () => void navigate(path),
      })),
      ...displays.flatMap((d) => [
        { value: `Open ${d.name}`, run: () => void navigate(`/register/${d.id}`) },
        { value: `Start run on ${d.name}`, run: () => void navigate(`/runs/new?display=${d.id}`) },
      ]),
      {
        value: theme === 'dark' ? 'Use the light theme' : 'Use the dark theme',
        run: () => setTheme(theme === 'dark' ? 'light' : 'dark'),
      },
    ],
    [role, displays, navigate, setTheme, theme],
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

/** Words of the palette's own, which no display is searched by. */
const verbs = ['open', 'start', 'run', 'on', 'go', 'to', 'use', 'the']

/** What of a command names a display. */
const namesOf = (typed: string) =>
  typed
    .slice(0, 80)
    .split(/\s+/)
    .filter((word) => !verbs.some((verb) => word !== '' && verb.startsWith(word.toLowerCase())))
    .join(' ')

/** Every typed word begins a word of the command. */
const matches = (typed: string, command: string) => {
  const words = command.toLowerCase().split(/\s+/)
  return typed
    .toLowerCase()
    .split(/\s+/)
    .filter(Boolean)
    .every((t) => words.some((w) => w.startsWith(t)))
}
