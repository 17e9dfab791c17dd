import { EntitySchema } from 'typeorm'
import { written, type Statement } from '../data/atomically'

/** One decision of the studio. */
export interface SettingRow {
  name: string
  value: unknown
}
export const settingEntity = new EntitySchema<SettingRow>({
  name: 'setting',
  columns: { name: { type: 'text', primary: true }, value: { type: 'simple-json' } },
})

/** The statement that keeps a decision in place of what stood there. */
export const keptSetting = (name: string, value: unknown): Statement =>
  written('INSERT INTO setting (name, value) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET value = excluded.value', [
    name,
    JSON.stringify(value),
  ])
