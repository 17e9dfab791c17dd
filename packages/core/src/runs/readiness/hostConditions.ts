/** Host settings that ruin a run when they are on. */
export const hostConditionNames = [
  'automaticBrightness',
  'whiteAdaptation',
  'eveningTint',
  'hdr',
  'mirroring',
  'screenSaver',
  'sleepOnMains',
  'sleepOnBattery',
  'onBattery',
] as const
export type HostCondition = (typeof hostConditionNames)[number]
