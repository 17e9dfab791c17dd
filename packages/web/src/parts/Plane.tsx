import type { CSSProperties, ReactNode } from 'react'

/** A surface with a heading and, quieter, what it shows. */
export function Plane({
  title,
  aside,
  children,
  style,
  className = '',
}: {
  title?: ReactNode
  aside?: ReactNode
  children: ReactNode
  style?: CSSProperties
  className?: string
}) {
  return (
    <section className={`plane ${className}`} style={style}>
      {title !== undefined && (
        <div className="head">
          <h2>{title}</h2>
          {aside !== undefined && <span className="quiet">{aside}</span>}
        </div>
      )}
      {children}
    </section>
  )
}
