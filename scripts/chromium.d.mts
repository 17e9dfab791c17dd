export function chromiumPath(options?: { install?: boolean }): string
export const chromiumArgs: string[]
export const webGlArgs: string[]
