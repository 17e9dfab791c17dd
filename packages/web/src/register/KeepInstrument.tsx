import { Form, Input, Modal, Segmented } from 'antd'
import { keepInstrumentSchema, type Instrument, type Kept } from '@bichroma/contract'
import { ask } from '../api/client'
import { useSchemaForm } from '../parts/useSchemaForm'

/** Whether an instrument is in use, at its maker's, or gone. */
export function KeepInstrument({ instrument, onClose }: { instrument: Instrument; onClose: () => void }) {
  const { id, model, serial, kept, keptWhy } = instrument
  const { form, submit, pending } = useSchemaForm<{ kept: Kept; why?: string }>(
    keepInstrumentSchema,
    (input) => ask('PUT', `/instruments/${id}`, input).then(onClose),
    (values) => ({ kept: values.kept, ...(values.why && { why: values.why }) }),
  )
  return (
    <Modal
      open
      title={`${model} ${serial}`}
      okText="Save"
      onOk={submit}
      onCancel={onClose}
      confirmLoading={pending}
      width={400}
    >
      <Form form={form} layout="vertical" initialValues={{ kept, why: keptWhy ?? '' }} onFinish={submit}>
        <Form.Item label="It is" name="kept">
          <Segmented block options={['in use', 'stored', 'retired']} />
        </Form.Item>
        <Form.Item label="Why" name="why" extra="as in: at its maker’s for a certificate">
          <Input maxLength={200} />
        </Form.Item>
      </Form>
      <p className="second">Put away, it is offered for no run; what was read with it stays.</p>
    </Modal>
  )
}
