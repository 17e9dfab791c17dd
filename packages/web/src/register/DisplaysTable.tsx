import { Button } from 'antd'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { verdictNames, verdictWords } from '@bichroma/core/aims'
import { operatingSystems, panelKinds } from '@bichroma/core/register'
import { mostChanged, type DisplayListing, type Page } from '@bichroma/contract'
import { ask } from '../api/client'
import { addressOf, useList, type Asked } from '../api/lists'
import { useSend, useSession } from '../api/queries'
import { ListTools } from '../parts/ListTools'
import { countWords, LongTable } from '../parts/LongTable'
import { Plane } from '../parts/Plane'
import { formatDueLine } from '../parts/times'
import { useAddress } from '../parts/useAddress'
import { VerdictLabel, verdictWidth } from '../parts/VerdictSign'
import { ChangeMany } from './ModelsPage'

/** The numbers of all that a list holds, part by part. */
async function idsOf(asked: Asked): Promise<number[]> {
  const ids: number[] = []
  for (let cursor: string | null = ''; cursor !== null;) {
    const page: Page<DisplayListing> = await ask('GET', addressOf('/displays', { ...asked, cursor, limit: 200 }))
    ids.push(...page.items.map((d) => d.id))
    cursor = page.next
  }
  return ids
}

/** Every display of the register, searched, filtered and sorted on the server. */
export function DisplaysTable() {
  const navigate = useNavigate()
  const [asked, askFor] = useAddress(['search', 'room', 'verdict', 'sort'])
  const list = useList<DisplayListing>('/displays', asked)
  const admin = useSession().data?.account?.role === 'administrator'
  const [ids, setIds] = useState<readonly number[] | null>(null)
  const gathering = useSend(async () => setIds(await idsOf(asked)))
  const filtered = asked.search || asked.room || asked.verdict
  return (
    <Plane title="Displays" aside={countWords(list)}>
      <ListTools
        label="Find a display"
        by="name, model, serial, room or workstation"
        asked={asked}
        onAsk={askFor}
        filters={[
          {
            name: 'verdict',
            label: 'Verdict',
            all: 'every verdict',
            options: verdictNames.map((value) => ({ value, label: verdictWords[value] })),
          },
        ]}
      >
        {admin && filtered && list.total > 1 && list.total <= mostChanged && (
          <Button size="small" loading={gathering.isPending} onClick={() => gathering.mutate(undefined)}>
            Change these {list.total}
          </Button>
        )}
      </ListTools>
      {ids && <ChangeMany title={`${ids.length} displays at once`} which={{ ids }} onClose={() => setIds(null)} />}
      <LongTable
        label="Displays"
        list={list}
        keyOf={(d) => d.id}
        rowHeight={41}
        sort={asked.sort}
        onSort={(sort) => askFor({ sort })}
        onOpen={(d) => void navigate(`/register/${d.id}`)}
        none={filtered ? 'No display fits.' : 'No display is in the register yet.'}
        columns={[
          {
            title: 'Display',
            sort: 'name',
            show: (d) => (
              <>
                <b style={{ fontWeight: 500 }}>{d.name}</b>
                <br />
                <span className="small quiet">{d.room}</span>
              </>
            ),
          },
          {
            title: 'Maker and model',
            show: (d) => (
              <>
                {d.maker} {d.model}
                <br />
                <span className="small quiet">{panelKinds[d.panelKind]}</span>
              </>
            ),
          },
          {
            title: 'Serial, firmware',
            width: 122,
            show: (d) => (
              <>
                <span className="fig">{d.serial}</span>
                <br />
                <span className="fig quiet">{d.firmware}</span>
              </>
            ),
          },
          {
            title: 'Workstation',
            show: (d) => (
              <>
                {d.workstation}
                <br />
                <span className="small quiet">
                  {operatingSystems[d.operatingSystem].label} {d.systemVersion}
                </span>
              </>
            ),
          },
          {
            title: 'Verdict',
            sort: 'verdict',
            width: verdictWidth,
            show: (d) => (
              <>
                <VerdictLabel verdict={d.verdict} />
                <br />
                <span className={`small ${d.dueState === 'overdue' ? 'asks' : 'quiet'}`}>{formatDueLine(d)}</span>
              </>
            ),
          },
        ]}
      />
    </Plane>
  )
}
