import { Button, Modal } from 'antd'

/** The key with which a workstation's courier connects, shown once. */
export function CourierKey({
  workstation,
  courierKey,
  onClose,
}: {
  workstation: string
  courierKey: string
  onClose: () => void
}) {
  return (
    <Modal
      open
      title={`The courier of ${workstation}`}
      footer={<Button onClick={onClose}>Done</Button>}
      onCancel={onClose}
      width={480}
    >
      <p style={{ marginBottom: 8 }}>
        Start the courier on {workstation} with this server’s address and this key. The key is not shown again.
      </p>
      <code className="fig" style={{ overflowWrap: 'anywhere', whiteSpace: 'normal' }} data-testid="courier-key">
        {courierKey}
      </code>
    </Modal>
  )
}
