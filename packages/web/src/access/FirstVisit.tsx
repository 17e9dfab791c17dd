import { Button, Form, Input } from 'antd'
import { firstVisitSchema, leastPassword, type FirstVisitInput } from '@bichroma/contract'
import { ask } from '../api/client'
import { useSend } from '../api/queries'
import { checked, showProblem } from '../parts/useYupForm'
import { Entry } from './Entry'

/** The first administrator of a studio, made with the token that the console tells. */
export function FirstVisit() {
  const [form] = Form.useForm<FirstVisitInput>()
  const make = useSend(
    (input: FirstVisitInput) => ask('POST', '/first-visit', input),
    (problem) => showProblem(form, problem),
  )
  const submit = () => {
    const input = checked(form, firstVisitSchema, form.getFieldsValue())
    if (input) make.mutate(input)
  }
  return (
    <Entry words="Nobody has an account here yet. Make the first administrator with the token that the server told on its console.">
      <Form form={form} layout="vertical" requiredMark={false} onFinish={submit}>
        <Form.Item label="Token of the console" name="token">
          <Input autoFocus autoComplete="off" className="fig" placeholder="XXXXX-XXXXX-XXXXX-XXXXX" />
        </Form.Item>
        <Form.Item label="Your name" name="name">
          <Input autoComplete="name" />
        </Form.Item>
        <Form.Item label="Login" name="login">
          <Input autoComplete="username" />
        </Form.Item>
        <Form.Item label="Password" name="password" extra={`${leastPassword} characters or more`}>
          <Input.Password autoComplete="new-password" />
        </Form.Item>
        <Form.Item>
          <Button type="primary" htmlType="submit" loading={make.isPending} block>
            Make the first administrator
          </Button>
        </Form.Item>
      </Form>
    </Entry>
  )
}
