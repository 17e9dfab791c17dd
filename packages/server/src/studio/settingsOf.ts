import { usualSettings, type StudioSettings } from '@bichroma/contract'

/** What was decided, with the usual for what was not. */
export const studioSettingsOf = (value: unknown): StudioSettings => ({
  ...usualSettings,
  ...(value as Partial<StudioSettings> | null | undefined),
})
