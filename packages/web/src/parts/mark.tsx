/** Bichroma's mark. */
export const Mark = () => (
  <svg width="18" height="18" viewBox="0 0 18 18" aria-hidden>
    <circle cx="9" cy="9" r="7" fill="none" stroke="var(--lake)" strokeWidth="3" />
    <circle cx="9" cy="9" r="3.4" fill="var(--ochre)" />
  </svg>
)
