import { EntitySchema } from 'typeorm'

/** One decision of the studio. */
export interface SettingRow {
  name: string
  value: unknown
}
export const settingEntity = new EntitySchema<SettingRow>({
  name: 'setting',
  columns: { name: { type: 'text', primary: true }, value: { type: 'simple-json' } },
})
