/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react'
import { showInApp } from '../parts/showInApp'
import { StubbedApi } from '../test/stubbedApi'
import { ApiPage } from './ApiPage'

const json = (schema: object, example?: object) => ({ 'application/json': { schema, ...(example && { example }) } })
const description = {
  paths: {
    '/rooms': {
      get: {
        tags: ['Register'],
        summary: 'All rooms.',
        description: 'Whoever is signed in may ask.',
        responses: { '200': { content: json({ type: 'array', items: { $ref: '#/components/schemas/Room' } }) } },
      },
      post: {
        tags: ['Register'],
        summary: 'Adds a room.',
        description: 'Administrators may.',
        requestBody: {
          content: json(
            {
              type: 'object',
              required: ['name'],
              properties: {
                name: { type: 'string', maxLength: 60, description: 'As people call it.' },
                light: { anyOf: [{ type: 'null' }, { properties: { kind: { const: 'range' } } }] },
                floor: { type: ['number', 'null'], minimum: -3, maximum: 40 },
                use: { enum: ['plates', 'dome'] },
                near: { type: 'number', exclusiveMinimum: 0 },
                spot: { prefixItems: [{ type: 'number' }, { type: 'number' }] },
              },
            },
            { name: 'Sedge Room' },
          ),
        },
        responses: { '201': { content: json({ $ref: '#/components/schemas/Room' }) } },
      },
    },
    '/runs/{id}/report': {
      get: {
        tags: ['Review'],
        summary: 'The report of a run.',
        description: 'As PDF.',
        parameters: [
          { name: 'id', required: true, schema: { type: 'integer' } },
          { name: 'as', required: false, schema: { enum: ['pdf', 'cgats'] } },
        ],
        responses: { '200': { content: { 'application/pdf': {} } } },
      },
    },
  },
  components: {
    schemas: {
      Room: {
        description: 'A room.',
        required: ['id'],
        properties: { id: { type: 'integer' }, doors: { type: 'array', items: { type: 'string' } } },
      },
    },
  },
}

const api = new StubbedApi()
beforeEach(() => {
  api.begin({ 'GET /api/openapi.json': { body: description } })
  showInApp(<ApiPage />, '/account/api')
})
afterEach(() => {
  cleanup()
  api.end()
})
const route = async (summary: string) => (await screen.findByText(summary)).closest('details')!
/** Name, what it is, what it means: the rows under a title. */
const fields = (of: HTMLElement, title: string) =>
  [...within(of).getByText(title).nextElementSibling!.querySelectorAll('tr')].map((row) =>
    [...row.children].map((cell) => cell.textContent),
  )

test('routes stand by area, each with how many it has', async () => {
  const planes = (await screen.findAllByRole('heading', { level: 2 })).map((h) => h.closest('section')!)
  expect(planes.map((p) => p.querySelector('h2')!.textContent)).toEqual(['Register', 'Review'])
  expect(planes.map((p) => p.querySelectorAll('details').length)).toEqual([2, 1])
})

test('what is sent is told field by field, with bounds, choices and what may be left out', async () => {
  const post = await route('Adds a room.')
  expect(fields(post, 'Sent')).toEqual([
    ['name', 'string 60 characters at most', 'As people call it.'],
    ['light?', 'null | { kind: "range" … }', ''],
    ['floor?', 'number | null from -3 to 40', ''],
    ['use?', '"plates" | "dome"', ''],
    ['near?', 'number above 0', ''],
    ['spot?', '[number, number]', ''],
  ])
  expect(JSON.parse(post.querySelector('pre')!.textContent!)).toEqual({ name: 'Sedge Room' })
})

test('what comes back is told by its definition, of a list by that of its entries', async () => {
  const room = [
    ['id', 'integer', ''],
    ['doors?', 'list of string', ''],
  ]
  expect(fields(await route('Adds a room.'), 'Answers with Room')).toEqual(room)
  expect(fields(await route('All rooms.'), 'Answers with list of Room')).toEqual(room)
})

test('a file is told as one, and what stands in its address', async () => {
  const report = await route('The report of a run.')
  expect(report.textContent).toContain('Answers with a file: application/pdf.')
  expect(fields(report, 'In the address')).toEqual([
    ['id', 'integer', ''],
    ['as?', '"pdf" | "cgats"', ''],
  ])
})

test('a route is found by all the words of its method, address, area and summary', async () => {
  await route('All rooms.')
  const shown = () => screen.queryAllByText(/\.$/, { selector: 'summary .second' }).map((s) => s.textContent)
  const find = (value: string) => {
    const field = screen.getByLabelText('Find a route')
    fireEvent.change(field, { target: { value } })
    fireEvent.blur(field)
  }
  find('POST room')
  await waitFor(() => expect(shown()).toEqual(['Adds a room.']))
  find('review')
  await waitFor(() => expect(shown()).toEqual(['The report of a run.']))
  find('nowhere')
  expect(await screen.findByText('No route fits.')).toBeTruthy()
})
