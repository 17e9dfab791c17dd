import Ajv from 'ajv/dist/2020.js'
import { panelKindNames } from '@bichroma/core/register'
import { pipelineKindNames } from '@bichroma/core/tables'
import file from '../../scenarios/fen-lantern.json'
import instrumentJsonSchema from '../../schema/instrument.schema.json'
import panelJsonSchema from '../../schema/panel.schema.json'
import scenarioJsonSchema from '../../schema/scenario.schema.json'
import { instrumentSchema, readInstrument } from '../instrument/instrumentSchema'
import { jsonSchemaFile } from '@bichroma/contract'
import { forms, panelSchema, readPanel } from '../panel/panelSchema'
import { fenLantern } from './fenLantern'
import { readScenario, scenarioSchema, withDifferences } from './scenario'
import { shippedInstruments, shippedPanels } from './shipped'

const noFile = () => {
  throw new Error('no such file')
}

describe('files that ship', () => {
  test('a panel for every kind of light, form and slot contents', () => {
    const panels = Object.values(shippedPanels).map(readPanel)
    expect(new Set(panels.map((p) => p.light.source))).toEqual(new Set(panelKindNames))
    expect(new Set(panels.map((p) => p.form))).toEqual(new Set(forms))
    expect(new Set(panels.map((p) => p.tables.pipeline.kind))).toEqual(new Set(pipelineKindNames))
    expect(new Set(panels.map((p) => `${p.maker} ${p.model}`)).size).toBe(panels.length)
  })

  test('defaults are filled in', () => {
    const panel = readPanel(shippedPanels['tarn-pen-22'])
    expect(panel.time.warmUp).toEqual({ luminanceShort: 0.09, luminanceMinutes: 11, blueShort: 0.025, blueMinutes: 16 })
    expect(panel.control.max).toBe(100)
    expect(panel.brightnessLimit).toBeNull()
    expect(panel.tables.link).toBe('usb')
  })

  test('the demo’s fleet: six rooms, 34 displays of all models, 20 workstations on three systems, five instruments', () => {
    const displays = fenLantern.workstations.flatMap((w) => w.displays)
    expect(Object.keys(fenLantern.rooms)).toHaveLength(6)
    expect(displays).toHaveLength(34)
    expect(new Set(displays.map((d) => d.panel.model)).size).toBe(Object.keys(shippedPanels).length)
    expect(fenLantern.workstations).toHaveLength(20)
    expect(new Set(fenLantern.workstations.map((w) => w.host.operatingSystem)).size).toBe(3)
    expect(fenLantern.instruments).toHaveLength(5)
    expect(fenLantern.instruments.filter((i) => i.certifiedDaysAgo! > 365)).toHaveLength(2)
  })
})

describe('the JSON Schemas', () => {
  const ajv = new Ajv({ strict: false, allErrors: true })
  const validators = {
    panel: ajv.compile(panelJsonSchema),
    instrument: ajv.compile(instrumentJsonSchema),
    scenario: ajv.compile(scenarioJsonSchema),
  }

  test('are those of the Yup schemas as they are now (npm run schemas)', () => {
    const plain = (v: unknown) => JSON.parse(JSON.stringify(v))
    expect(panelJsonSchema).toEqual(plain(jsonSchemaFile(panelSchema, panelJsonSchema.title)))
    expect(instrumentJsonSchema).toEqual(plain(jsonSchemaFile(instrumentSchema, instrumentJsonSchema.title)))
    expect(scenarioJsonSchema).toEqual(plain(jsonSchemaFile(scenarioSchema, scenarioJsonSchema.title)))
  })

  test('an independent validator takes every file that ships', () => {
    for (const [name, panel] of Object.entries(shippedPanels))
      expect([name, validators.panel(panel)]).toEqual([name, true])
    for (const instrument of Object.values(shippedInstruments)) expect(validators.instrument(instrument)).toBe(true)
    expect(validators.scenario(file)).toBe(true)
  })

  /** Every place in a file, as a path of keys. */
  const placesIn = (value: unknown, path: string[] = []): string[][] =>
    value !== null && typeof value === 'object'
      ? Object.entries(value).flatMap(([key, inner]) => [[...path, key], ...placesIn(inner, [...path, key])])
      : []
  const replaced = (value: unknown, [key, ...rest]: string[], by: unknown): unknown => {
    const copy = (Array.isArray(value) ? [...value] : { ...(value as object) }) as Record<string, unknown>
    copy[key] = rest.length ? replaced(copy[key], rest, by) : by
    return copy
  }
  const takes = (read: () => unknown) => {
    try {
      read()
      return true
    } catch {
      return false
    }
  }

  test('validator and reader agree on files in which one thing is wrong @long', () => {
    const panel = shippedPanels['quillon-q27']
    const wrong = [undefined, null, 'x', -1e9, [], {}, true]
    let refused = 0
    for (const path of placesIn(panel))
      for (const by of wrong) {
        const changed = JSON.parse(JSON.stringify(replaced(panel, path, by)))
        const [ours, theirs] = [takes(() => readPanel(changed)), validators.panel(changed)]
        // Lengths of plain text and lists of names differ in what counts as text: the reader may be stricter.
        if (ours) expect([path.join('.'), by, theirs]).toEqual([path.join('.'), by, true])
        if (!theirs) expect([path.join('.'), by, ours]).toEqual([path.join('.'), by, false])
        if (!ours) refused++
      }
    expect(refused).toBeGreaterThan(200)
  })
})

describe('what is wrong is named', () => {
  const panel = (differs: object) => withDifferences(shippedPanels['quillon-q27'], differs)
  test.each<[string, object, string]>([
    ['a kind of light that is none', { light: { source: 'candle' } }, '“light.source” must be one of: white-led'],
    ['too bright', { light: { peakLuminance: 1e6 } }, '“light.peakLuminance” must be 5000 or less'],
    ['two exponents', { tone: { exponents: [2, 2] } }, '“tone.exponents” needs exactly 3 entries'],
    ['a field that does not belong there', { tone: { gamma: 2 } }, 'holds fields that do not belong there: gamma'],
    ['no kind of slot contents', { tables: { pipeline: { kind: '4D' } } }, 'must be one of: 1D+3x3'],
    ['a grid too large', { tables: { pipeline: { grid: { size: 65 } } } }, 'must be 33 or less'],
    ['text for a number', { signal: { driveBits: '12' } }, '“signal.driveBits” must be a number'],
  ])('%s', (_, differs, words) => {
    expect(() => readPanel(panel(differs))).toThrow(words)
  })

  test('not even an object', () => {
    expect(() => readPanel('panel')).toThrow('a JSON object')
    expect(() => readInstrument([])).toThrow('a JSON object')
  })

  const scenario = (differs: object) => () => readScenario(withDifferences(file, differs), noFile)
  test('in a scenario the display or instrument is named besides', () => {
    const [first, ...rest] = file.workstations
    const [display] = first.displays
    const with1 = (change: object) => ({ workstations: [{ ...first, displays: [{ ...display, ...change }] }, ...rest] })
    expect(scenario(with1({ differs: { light: { peakLuminance: 0 } } }))).toThrow(
      'Display Sedge 1: “light.peakLuminance”',
    )
    expect(scenario(with1({ model: 'nowhere.json' }))).toThrow('Display Sedge 1: no such file')
    expect(scenario(with1({ serial: 'QL-27-04418' }))).toThrow('QL-27-04418 is there twice')
    expect(scenario({ workstations: [{ ...first, room: 'Attic' }, ...rest] })).toThrow('sedge-01 stands in “Attic”')
    expect(scenario({ seed: 1.5 })).toThrow('“seed” must be a whole number')
    expect(scenario({ rooms: {} })).toThrow('“rooms” must be a list')
  })
})
