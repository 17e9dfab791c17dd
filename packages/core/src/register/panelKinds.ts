/** Kinds of panel by their light, with the word for people. */
export const panelKinds = {
  'white-led': 'white LED',
  'wide-gamut-led': 'wide-gamut phosphor LED',
  'rgb-led': 'RGB LED',
  'quantum-dot': 'quantum dot',
  oled: 'OLED',
} as const

export type PanelKind = keyof typeof panelKinds
export const panelKindNames = Object.keys(panelKinds) as PanelKind[]
