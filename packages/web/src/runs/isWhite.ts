/** Whether a reading is of white: in Baseline, Level, a round of greys, or Prove. */
export const isWhite = ({ name }: { name: string }): boolean =>
  name === 'White' || name.startsWith('White at') || name.startsWith('White by hand') || name.startsWith('Grey 100 %')
