import { type ReactNode } from 'react'
import { Mark } from '../parts/mark'

/** The plane that stands alone before anybody is in. */
export const Entry = ({ words, children }: { words?: ReactNode; children: ReactNode }) => (
  <main className="entry">
    <div className="plane">
      <h1>
        <Mark /> Bichroma
      </h1>
      {words && <p className="second">{words}</p>}
      {children}
    </div>
  </main>
)
