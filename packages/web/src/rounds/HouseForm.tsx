import { Button, Modal } from 'antd'
import type { ReactNode } from 'react'

/** A form over what rounds are made from. */
export function HouseForm({
  title,
  save,
  pending,
  refused,
  mayNot = false,
  remove,
  onClose,
  onSave,
  children,
}: {
  title: string
  save: string
  pending: boolean
  refused: string | null
  mayNot?: boolean
  /** What takes it away, where there is something to take away. */
  remove?: { label: string; onRemove: () => void }
  onClose: () => void
  onSave: () => void
  children: ReactNode
}) {
  return (
    <Modal
      open
      width={560}
      title={title}
      onCancel={onClose}
      footer={[
        ...(remove
          ? [
              <Button key="remove" style={{ float: 'left' }} onClick={remove.onRemove}>
                {remove.label}
              </Button>,
            ]
          : []),
        <Button key="not" onClick={onClose}>
          Leave as it is
        </Button>,
        <Button key="save" type="primary" disabled={mayNot} loading={pending} onClick={onSave}>
          {save}
        </Button>,
      ]}
    >
      <div className="editform">{children}</div>
      {refused && (
        <p className="asks" role="alert">
          {refused}
        </p>
      )}
    </Modal>
  )
}
