/** A profile that is not what the screen shows: two bars that do not meet. Told by its shape, in the tone of text. */
export function AstraySign({ astray }: { astray: 'overridden' | 'missing' | 'out of step' }) {
  const words = `profile ${astray}`
  return (
    <svg width="12" height="12" viewBox="0 0 12 12" role="img" aria-label={words} style={{ flex: 'none' }}>
      <title>{words}</title>
      <path d="M1 4h6M5 8h6" stroke="currentColor" strokeWidth="1.8" fill="none" />
    </svg>
  )
}
