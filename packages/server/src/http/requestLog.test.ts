import { withoutLinks } from './requestLog'

test('the log holds no link that opens something: it writes an ellipsis in its place, and all else as it is', () => {
  const token = 'AGwFWMsgRxwJ9ym5Nyvsy3Za3AA6l-8Ij0nhC8nEH9c'
  expect(withoutLinks(`/api/feeds/${token}.ics`)).toBe('/api/feeds/…')
  expect(withoutLinks(`/api/desk/${token}/answer`)).toBe('/api/desk/…/answer')
  expect(withoutLinks(`/desk/${token}`)).toBe('/desk/…')
  for (const path of ['/api/desk-reports/1/answer', '/api/displays/2', '/', '/rounds/week'])
    expect(withoutLinks(path)).toBe(path)
})
