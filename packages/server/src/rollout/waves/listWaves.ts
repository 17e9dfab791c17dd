import type { DataSource } from 'typeorm'
import {
  mendOf,
  nextMove,
  waveItemStates,
  waveTimeLeft,
  type PlacementState,
  type WaveItemState,
  type WaveMove,
  type WaveState,
} from '@bichroma/core/rollout'
import type {
  Page,
  Selection,
  Wave,
  WaveDetail,
  WaveItem,
  waveItemListSchema,
  waveListSchema,
  yup,
} from '@bichroma/contract'
import type { CourierHub } from '../../couriers/hub'
import { holds, pageOf } from '../../data/pageOf'
import { Refusal } from '../../http/problem'
import { standingSql } from '../standingSql'
import { itemFrom, itemState, standingOfWave } from './itemStates'

interface Row extends Omit<Wave, 'selection' | 'counts' | 'leftMs' | 'says' | 'startedBy'> {
  selection: string
  startedBy: string | null
  word: number
  excused: number
}
const columns = `wave.id AS id, wave.name AS name, state, selection, first, gate, stop_share AS stopShare, word, excused,
  started_at AS startedAt, account.name AS startedBy, expires_at AS expiresAt, ended_at AS endedAt`
const from = 'wave LEFT JOIN account ON account.id = account_id'

/** What a wave waits for or why it stands, for people. */
function sentenceOf(state: WaveState, move: WaveMove): string | null {
  if (state === 'paused') return 'Nothing more is let out until somebody goes on.'
  if (state === 'stopped' && move.do === 'stop')
    return `${move.failed} of ${move.of} failed, so it stopped. Look at them, then go on or undo it.`
  if (state === 'stopped') return 'Failures stopped it. What failed has been mended since: it can go on.'
  if (state === 'undoing') return 'What could not be given back yet waits for its courier.'
  if (state !== 'under way' || move.do !== 'wait') return null
  return {
    first: 'The rest waits until the first few are read back.',
    check: 'The rest waits for a check run of each of the first few.',
    word: 'The first few are there. The rest waits for somebody’s word.',
    rest: null,
  }[move.for]
}

const waitsForPeople = (move: WaveMove) => move.do === 'wait' && (move.for === 'word' || move.for === 'check')

async function shown(data: DataSource, row: Row, now: number): Promise<Wave> {
  const { word, excused, selection, startedBy, ...wave } = row
  const standing = await standingOfWave(data, wave.id)
  const counts = Object.fromEntries(waveItemStates.map((s) => [s, standing.first[s] + standing.rest[s]])) as Record<
    WaveItemState,
    number
  >
  const move = nextMove({ ...wave, word: Boolean(word), excused }, standing)
  const left = counts['held back'] + counts['under way']
  return {
    ...wave,
    selection: JSON.parse(selection) as Selection,
    startedBy: startedBy ?? 'Bichroma',
    says: sentenceOf(wave.state, move),
    counts,
    // Nobody knows how long people take.
    leftMs:
      wave.state === 'under way' && !waitsForPeople(move)
        ? waveTimeLeft(wave.startedAt, now, counts.there, left)
        : null,
  }
}

export async function listWaves(
  data: DataSource,
  asked: yup.InferType<typeof waveListSchema>,
  now: number,
): Promise<Page<Wave>> {
  const page = await pageOf<Row>(data, asked, {
    columns,
    from,
    where: [
      { sql: `state <> 'preparing'` },
      holds('wave.name', asked.search),
      asked.state !== undefined && { sql: 'state = ?', parameters: [asked.state] },
    ],
    by: 'wave.id',
    down: true,
    id: 'wave.id',
  })
  return { ...page, items: await Promise.all(page.items.map((row) => shown(data, row, now))) }
}

interface ItemRow extends Omit<WaveItem, 'before' | 'mend' | 'says'> {
  workstationId: number
  itemSays: string | null
  before: string | null
  standing: PlacementState | null
  waitsFor: 'sign-out' | 'restart' | null
  fault: string | null
  message: string | null
}

export async function waveDetail(
  data: DataSource,
  hub: CourierHub,
  id: number,
  asked: yup.InferType<typeof waveItemListSchema>,
  now: number,
): Promise<WaveDetail> {
  const [row] = await data.query<Row[]>(`SELECT ${columns} FROM ${from} WHERE wave.id = ? AND state <> 'preparing'`, [
    id,
  ])
  if (!row) throw new Refusal('not-found', `There is no wave ${id}.`)
  const page = await pageOf<ItemRow>(data, asked, {
    columns: `item.display_id AS displayId, display.name AS displayName, item.workstation_id AS workstationId,
      workstation.name AS workstationName, item.step AS step, item.action AS action, ${itemState} AS state, item.slot AS slot,
      COALESCE(placement.file_name, item.file_name) AS fileName, placement.before AS before, item.says AS itemSays,
      item.out_at AS outAt, placement.verified_at AS thereAt,
      CASE WHEN undo.id IS NOT NULL THEN undo.state ELSE ${standingSql} END AS standing, found.waits_for AS waitsFor,
      COALESCE(undo.fault, placement.fault) AS fault, COALESCE(undo.message, placement.message) AS message`,
    from: `${itemFrom} JOIN workstation ON workstation.id = item.workstation_id`,
    where: [
      { sql: 'item.wave_id = ?', parameters: [id] },
      holds('display.name', asked.search),
      asked.state !== undefined && { sql: `${itemState} = ?`, parameters: [asked.state] },
    ],
    by: 'item.step',
    id: 'item.id',
  })
  return {
    ...(await shown(data, row, now)),
    items: {
      ...page,
      items: page.items.map(({ workstationId, itemSays, before, standing, waitsFor, fault, message, ...item }) => ({
        ...item,
        ...(before !== null && { before: (JSON.parse(before) as { path: string | null }).path }),
        says: itemSays ?? (fault === null && item.state !== 'left out' ? null : message),
        mend:
          item.state === 'left out' || item.state === 'held back' || item.state === 'undone'
            ? null
            : mendOf({
                state: standing,
                differs: false,
                lacksProfile: false,
                waitsFor,
                fault,
                courierOnline: hub.helloOf(workstationId) !== null,
                inWave: false,
              }),
      })),
    },
  }
}
