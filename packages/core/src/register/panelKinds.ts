/** Kinds of panel by their light, with the word for people. */
export const panelKinds = {
  'white-led': 'white LED',
  'wide-gamut-led': 'wide-gamut phosphor LED',
  'rgb-led': 'RGB LED',
  'quantum-dot': 'quantum dot',
  'cold-cathode': 'cold-cathode lamp',
  oled: 'OLED',
  'oled-white': 'OLED with a white subpixel',
  'projector-lamp': 'projector lamp',
} as const

export type PanelKind = keyof typeof panelKinds
export const panelKindNames = Object.keys(panelKinds) as PanelKind[]
