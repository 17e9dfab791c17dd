import { Button } from 'antd'
import { Link } from 'react-router'
import type { Backup } from '@bichroma/contract'
import { ask } from '../api/client'
import { useBackups, useSend } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { formatAgo, formatMoment } from '../parts/times'

const size = (bytes: number) => `${(bytes / 2 ** 20).toFixed(1)} MB`

/** Copies of the store: when they were made, and one more when asked for. */
export function BackupsPage() {
  const make = useSend(() => ask<Backup>('POST', '/backups'))
  return (
    <Loaded query={useBackups()}>
      {({ backups, folder, everyHours, keep, fault }) => (
        <>
          <div className="top">
            <div>
              <h1>{backups[0] ? `Last backup ${formatAgo(backups[0].madeAt)}` : 'No backup yet'}</h1>
              <p>
                {everyHours ? `One every ${everyHours} hours; the newest ${keep} are kept` : 'None is made by itself'}{' '}
                in{' '}
                <span className="fig" style={{ overflowWrap: 'anywhere', whiteSpace: 'normal' }}>
                  {folder}
                </span>
              </p>
            </div>
            <div className="acts">
              <Link to="/ledger">Back to the ledger</Link>
              <Button type="primary" loading={make.isPending} onClick={() => make.mutate(undefined)}>
                Make a backup
              </Button>
            </div>
          </div>
          {fault && (
            <p className="asks" role="alert" style={{ marginBottom: 12 }}>
              {fault}
            </p>
          )}
          <Plane title="Backups" aside={`${backups.length}, each looked through before it counts`}>
            {backups.length ? (
              <div className="sideways">
                <table className="figures people">
                  <thead>
                    <tr>
                      <th>Made</th>
                      <th>File</th>
                      <th>Size</th>
                    </tr>
                  </thead>
                  <tbody>
                    {backups.map((b) => (
                      <tr key={b.name}>
                        <td className="fig">{formatMoment(b.madeAt)}</td>
                        <td className="fig">{b.name}</td>
                        <td className="fig">{size(b.bytes)}</td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              </div>
            ) : (
              <p className="none">The first is made by itself, or now.</p>
            )}
          </Plane>
          <p className="small quiet" style={{ marginTop: 12 }}>
            To put one back, stop the server and run{' '}
            <span className="fig">npm run -s restore -- FILE --data FOLDER</span>; the store that is there is kept.
          </p>
        </>
      )}
    </Loaded>
  )
}
