import { Button, Form, Input } from 'antd'
import { Link, useNavigate, useSearchParams } from 'react-router'
import { acceptSchema, leastPassword } from '@bichroma/contract'
import { ask } from '../api/client'
import { useSend } from '../api/queries'
import { checked, showProblem } from '../parts/useYupForm'
import { Entry } from './Entry'

interface Fields {
  token: string
  password: string
}

/** The owner of an invitation or a reset chooses a password. */
export function Welcome() {
  const [params] = useSearchParams()
  const navigate = useNavigate()
  const [form] = Form.useForm<Fields>()
  const accept = useSend(
    (input: Fields) => ask('POST', '/accept', input).then(() => void navigate('/', { replace: true })),
    (problem) => showProblem(form, problem),
  )
  const submit = () => {
    const input = checked(form, acceptSchema, form.getFieldsValue())
    if (input) accept.mutate(input)
  }
  return (
    <Entry words="Choose a password for your account. The link is good for once.">
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        onFinish={submit}
        initialValues={{ token: params.get('token') ?? '' }}
      >
        <Form.Item label="Token of your invitation" name="token">
          <Input autoComplete="off" className="fig" />
        </Form.Item>
        <Form.Item
          label="Password"
          name="password"
          extra={`${leastPassword} characters or more; a short sentence will do`}
        >
          <Input.Password autoFocus autoComplete="new-password" />
        </Form.Item>
        <Form.Item>
          <Button type="primary" htmlType="submit" loading={accept.isPending} block>
            Choose this password
          </Button>
        </Form.Item>
        <Link to="/">Sign in instead</Link>
      </Form>
    </Entry>
  )
}
