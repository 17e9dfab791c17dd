import { Modal } from 'antd'
import { useInterface } from '../theme/useInterface'
import { areas } from './areas'

const keys: readonly (readonly [string, string])[] = [
  ['Ctrl K', 'Go to, or start'],
  ['?', 'This list'],
  ...areas.map(({ key, label }) => [`g ${key}`, `Go to ${label}`] as const),
  ['Space, arrows', 'On the week: take a visit up, move it'],
  ['Esc', 'Close what lies on top'],
]

/** The list of keys. */
export function KeysHelp() {
  const { keysOpen, setKeysOpen } = useInterface()
  return (
    <Modal open={keysOpen} onCancel={() => setKeysOpen(false)} footer={null} title="Keys" width={360}>
      <table className="figures">
        <tbody>
          {keys.map(([key, what]) => (
            <tr key={key}>
              <td className="fig">{key}</td>
              <td style={{ textAlign: 'left', paddingLeft: 24 }}>{what}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Modal>
  )
}
