import type { ReactNode } from 'react'
import { RoundsNav } from './RoundsNav'

/** The head of a view of rounds: its question answered, the other views, and what can be done. */
export function RoundsTop({ title, more, children }: { title: ReactNode; more?: ReactNode; children?: ReactNode }) {
  return (
    <div className="top">
      <div>
        {typeof title === 'string' ? <h1>{title}</h1> : title}
        <div className="words">
          <RoundsNav />
        </div>
        {more && <div className="words">{more}</div>}
      </div>
      {children && <div className="acts">{children}</div>}
    </div>
  )
}
