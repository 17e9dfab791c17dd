import { Link } from 'react-router'
import type { Need } from '@bichroma/contract'
import { useList } from '../api/lists'
import { countWords, LongTable } from '../parts/LongTable'
import { Plane } from '../parts/Plane'
import { needWords } from './needs'

/** Everything that needs someone, most pressing first. */
export function NeedsPage() {
  const list = useList<Need>('/needs')
  return (
    <>
      <div className="top">
        <div>
          <h1>Needs someone</h1>
          <p>Outside first, then profiles that are not in force, then what nobody can vouch for any more</p>
        </div>
        <div className="acts">
          <Link to="/">Back to Floor</Link>
        </div>
      </div>
      <Plane title="Displays" aside={countWords(list)}>
        <LongTable
          label="Displays that need someone"
          list={list}
          keyOf={(n) => `${n.kind} ${n.displayId}`}
          none="Nothing today."
          columns={[
            { title: 'Display', width: '30%', show: (n) => <b style={{ fontWeight: 500 }}>{needWords(n).title}</b> },
            { title: 'Why', show: (n) => <span className="second">{needWords(n).why}</span> },
            {
              title: '',
              width: 150,
              right: true,
              show: (n) => {
                const { action, to } = needWords(n)
                return (
                  <Link className="act" to={to}>
                    {action}
                  </Link>
                )
              },
            },
          ]}
        />
      </Plane>
    </>
  )
}
