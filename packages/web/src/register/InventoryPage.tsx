import { App, Button } from 'antd'
import { useState } from 'react'
import { Link } from 'react-router'
import { longestInventory, type InventoryLine, type InventoryPlan } from '@bichroma/contract'
import { ask } from '../api/client'
import { useSend, useSession } from '../api/queries'
import { ChooseFile } from '../parts/ChooseFile'
import { Plane } from '../parts/Plane'

/** Lines that are shown of each kind. */
const shownLines = 200

interface Looked {
  readonly name: string
  readonly text: string
  readonly plan: InventoryPlan
}

/** The register as a table: written out; and read in, with a look at what it would do before anything is written. */
export function InventoryPage() {
  const { message } = App.useApp()
  const admin = useSession().data?.account?.role === 'administrator'
  const [looked, setLooked] = useState<Looked | null>(null)
  const look = useSend(async ({ name, text }: { name: string; text: string }) =>
    setLooked({ name, text, plan: await ask<InventoryPlan>('POST', '/inventory/plan', { text }) }),
  )
  const takeIn = useSend(async ({ text, plan }: Looked) => {
    const { written } = await ask<{ written: number }>('POST', '/inventory', { text, digest: plan.digest })
    setLooked(null)
    void message.success(written === 1 ? 'One line was taken in.' : `${written} lines were taken in.`)
  })
  return (
    <>
      <div className="top">
        <div>
          <h1>Inventory</h1>
          <p>
            <Link to="/register">Register</Link> · all displays as comma-separated values, out and in
          </p>
        </div>
        <div className="acts">
          <Button href="/api/inventory">Write it out</Button>
          {admin && (
            <ChooseFile
              label="Inventory file"
              accept=".csv,text/csv"
              most={longestInventory}
              onChoose={async (file) => look.mutate({ name: file.name, text: await file.text() })}
            >
              Read one in
            </ChooseFile>
          )}
        </div>
      </div>
      {looked ? (
        <PlanOf
          looked={looked}
          pending={takeIn.isPending}
          onTake={() => takeIn.mutate(looked)}
          onClose={() => setLooked(null)}
        />
      ) : (
        <Plane title="How it is read">
          <div style={{ padding: '0 12px 12px', display: 'grid', gap: 8, maxWidth: 720 }}>
            <p className="second">
              A display is known by its serial number. What the file leaves out or leaves empty stays what it is; rooms
              and workstations that are not there yet are added. Firmware and versions of systems are left to the
              couriers.
            </p>
            <p className="second">
              You see line by line what it would do before anything is written. Storing, retiring and replacing is done
              on a display’s own page.
            </p>
          </div>
        </Plane>
      )}
    </>
  )
}

const kinds: Readonly<Record<InventoryLine['kind'], string>> = {
  fault: 'Cannot be taken',
  new: 'New displays',
  change: 'Changes',
  same: 'As they are',
}

function PlanOf({
  looked: { name, plan },
  pending,
  onTake,
  onClose,
}: {
  looked: Looked
  pending: boolean
  onTake: () => void
  onClose: () => void
}) {
  const { counts, lines, newRooms, newWorkstations } = plan
  const much = counts.new + counts.change
  return (
    <div style={{ display: 'grid', gap: 14 }}>
      <Plane title={name} aside={`${lines.length} lines`}>
        <div style={{ padding: '0 12px 12px', display: 'grid', gap: 8, justifyItems: 'start' }}>
          <p className="second">
            {counts.new} new, {counts.change} changed, {counts.same} as they are
            {counts.fault > 0 && <b className="asks">, {counts.fault} that cannot be taken</b>}
            {newRooms.length > 0 && <>; new rooms: {namesOf(newRooms)}</>}
            {newWorkstations.length > 0 && <>; new workstations: {namesOf(newWorkstations)}</>}
          </p>
          <span className="row">
            <Button type="primary" disabled={counts.fault > 0 || much === 0} loading={pending} onClick={onTake}>
              {much === 1 ? 'Take one line in' : `Take ${much} lines in`}
            </Button>
            <Button onClick={onClose}>Leave it</Button>
          </span>
          {counts.fault > 0 && (
            <p className="small quiet">Mend the lines below in the file, and choose it once more.</p>
          )}
        </div>
      </Plane>
      {(['fault', 'change', 'new'] as const).map((kind) =>
        counts[kind] ? (
          <Plane key={kind} title={kinds[kind]} aside={String(counts[kind])}>
            <div className="sidescroll" tabIndex={0} role="region" aria-label={kinds[kind]}>
              <table className="figures people inventory">
                <tbody>
                  {lines
                    .filter((l) => l.kind === kind)
                    .slice(0, shownLines)
                    .map((l) => (
                      <LineRow key={l.line} line={l} />
                    ))}
                </tbody>
              </table>
              {counts[kind] > shownLines && (
                <p className="small quiet" style={{ padding: 12 }}>
                  and {counts[kind] - shownLines} more
                </p>
              )}
            </div>
          </Plane>
        ) : null,
      )}
    </div>
  )
}

const namesOf = (names: readonly string[]) =>
  names.length > 6 ? `${names.slice(0, 6).join(', ')} and ${names.length - 6} more` : names.join(', ')

const LineRow = ({ line: { line, name, serial, changes, faults } }: { line: InventoryLine }) => (
  <tr>
    <td className="quiet fig">line {line}</td>
    <td>
      {name} <span className="fig quiet">{serial}</span>
    </td>
    <td style={{ textAlign: 'left' }}>
      {faults.map((f) => (
        <div key={f.field + f.sentence}>
          <b style={{ fontWeight: 500 }}>{f.field}</b>: {f.sentence}
        </div>
      ))}
      {changes.map((c) => (
        <div key={c.field}>
          {c.field}: {c.from && <>{c.from} → </>}
          {c.to}
        </div>
      ))}
    </td>
  </tr>
)
