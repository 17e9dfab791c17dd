/** What a run that waits asks of people; each has a drawing on the run sheet. */
export const askNames = [
  // The courier is to be started again.
  'courier',
  'cover',
  // The data cable beside the video cable.
  'cable',
  'instrument',
  // The display is to be switched on and plugged in.
  'display',
  // Switches that the workstation does not tell.
  'settings',
  // The instrument is to lie flat on the centre.
  'seat',
  // The display is to come to rest.
  'rest',
  'brightness',
  // Off and on again.
  'power',
  // The instrument is to go to another place of the screen.
  'place',
  // Somebody is at the workstation.
  'person',
  // The room's light is to be as it is wanted again.
  'light',
  // A device refused; its own sentence says what to do.
  'device',
] as const
export type Ask = (typeof askNames)[number]
