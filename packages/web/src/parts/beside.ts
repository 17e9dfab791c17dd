import type { CSSProperties } from 'react'

/** Width (px) of the narrower side of a `split`, where there is room for two. */
export const beside = (width: number): CSSProperties => ({ ['--beside' as string]: `${width}px` })
