/** Instruments that make the rounds, each with the rooms that it goes to. */
export const lanes: readonly { readonly instrument: string; readonly rooms: readonly string[] }[] = [
  { instrument: 'TC-0417', rooms: ['Sedge Room'] },
  { instrument: 'HS-0031', rooms: ['Plate Room'] },
  { instrument: 'TC-0522', rooms: ['Lantern Hall', 'Dome'] },
  { instrument: 'TC-0288', rooms: ['Diorama Shop', 'Field Store'] },
]
export const spectroradiometer = 'HS-0031'
