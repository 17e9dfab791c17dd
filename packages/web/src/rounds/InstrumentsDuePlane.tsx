import { Link } from 'react-router'
import { roleCovers, type CorrectionFallsDue, type RingFallsDue } from '@bichroma/contract'
import { useInstrumentsDue, useSession } from '../api/queries'
import { Plane } from '../parts/Plane'
import { formatDay } from '../parts/times'

/** What of the instruments falls due: a ring, and corrections that are to be made again. Nothing where nothing does. */
export function InstrumentsDuePlane() {
  const due = useInstrumentsDue().data
  const role = useSession().data?.account?.role ?? 'viewer'
  if (!due || (!due.ring && !due.corrections.length)) return null
  const { ring, corrections, correctionsInAll } = due
  return (
    <Plane title="Instruments" aside="within 60 days" style={{ marginBottom: 14 }}>
      <ul className="instrumentsdue">
        {ring && (
          <li>
            <When at={ring.at} />
            <span>
              {ringWords(ring)}{' '}
              {ring.displays.length > 0 && (
                <span className="second">
                  For instance on {ring.displays.map((d) => d.name).join(' and ')}, {ring.displays[0].room}.
                </span>
              )}
            </span>
            {roleCovers(role, 'administrator') && (
              <Link className="act" to={ringAddress(ring)} state={{ displays: ring.displays }}>
                Lay it
              </Link>
            )}
          </li>
        )}
        {corrections.slice(0, shown).map((c) => (
          <li key={c.id}>
            <When at={c.at} />
            <span>{correctionWords(c)}</span>
            {roleCovers(role, 'technician') && (
              <Link className="act" to="/register">
                Make it again
              </Link>
            )}
          </li>
        ))}
      </ul>
      {correctionsInAll > shown && (
        <p className="small quiet" style={{ padding: '0 12px 10px' }}>
          and {correctionsInAll - shown} more corrections
        </p>
      )}
    </Plane>
  )
}

/** Corrections that are told by name. */
const shown = 3

const isPast = (at: number) => at < Date.now()

function When({ at }: { at: number }) {
  return isPast(at) ? <b className="asks">due</b> : <b>{formatDay(at)}</b>
}

export function ringWords({ why, instrument, last }: RingFallsDue): string {
  switch (why) {
    case 'never laid':
      return 'A ring: the instruments were never laid on the same displays.'
    case 'half a year':
      return `A ring: the last one was laid on ${formatDay(last!)}.`
    case 'certificate ends':
      return `A ring before the certificate of ${instrument} ends.`
  }
}

export const correctionWords = ({ instrument, displayName, madeAt, why }: CorrectionFallsDue): string =>
  `The correction of ${instrument} on ${displayName} again: ${why === 'a year old' ? `it was made on ${formatDay(madeAt)}` : why}.`

/** Where a ring is laid, with what it may be laid with. */
const ringAddress = ({ instruments, displays }: RingFallsDue) =>
  `/peers/rings?instruments=${instruments.map((i) => i.id).join()}&displays=${displays.map((d) => d.id).join()}`
