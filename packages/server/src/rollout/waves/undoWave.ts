import { In } from 'typeorm'
import { atomically, written } from '../../data/atomically'
import { patiently } from '../../data/patiently'
import { agree, takeBack } from '../agree'
import { placementEntity, type PlacementRow, type WaveItemRow, type WaveRow } from '../entities'
import { foundNow } from '../recordFound'
import type { WaveServices } from './waves'

/** Gives some displays back what they had before, in one transaction; what others put there since stays, and is told. */
export async function undoSome(
  { data, now, tend }: WaveServices,
  wave: WaveRow,
  items: readonly WaveItemRow[],
): Promise<void> {
  const repository = data.getRepository(placementEntity)
  const byId = async (ids: readonly (number | null)[]) =>
    new Map(
      (await repository.findBy({ id: In(ids.filter((id) => id !== null)) })).map((p): [number, PlacementRow] => [
        p.id,
        p,
      ]),
    )
  const placed = await byId(items.map((i) => i.placementId))
  const former = await byId([...placed.values()].map((p) => p.before?.placementId ?? null))
  const moves: { item: WaveItemRow; placement: PlacementRow; leave: string | null }[] = []
  for (const item of items) {
    const placement = placed.get(item.placementId!)!
    const found = (await foundNow(data, item.workstationId, [item.displayId])).get(item.displayId)
    const another = found !== undefined && found.path !== null && found.hash !== placement.profileHash
    moves.push({
      item,
      placement,
      leave:
        placement.state === 'withdrawn' && item.action === 'place'
          ? placement.verifiedAt === null
            ? 'It was never there, so there is nothing to give back.'
            : 'Something else was agreed to for it since, and stays.'
          : placement.state === 'sent' && placement.verifiedAt !== null && item.action === 'place' && another
            ? 'Another profile was put in its place since, and stays.'
            : null,
    })
  }
  const at = now()
  await patiently(() =>
    atomically(data, (take) => {
      for (const { item, placement, leave } of moves) {
        const { before } = placement
        if (leave !== null) {
          take(written(`UPDATE wave_item SET state = 'left out', says = ? WHERE id = ?`, [leave, item.id]))
          continue
        }
        if (placement.state === 'queued' && placement.tries === 0) {
          takeBack(take, placement.id, 'The wave was undone before it was sent.', true)
          // One that was sent in this very moment is given back in the next round.
          take(
            written(
              `UPDATE wave_item SET state = 'undone' WHERE id = ?
                 AND (SELECT state FROM placement WHERE placement.id = placement_id) = 'withdrawn'`,
              [item.id],
            ),
          )
          continue
        }
        const was = before?.placementId ? former.get(before.placementId) : undefined
        const undoId = agree(take, data.manager, {
          displayId: item.displayId,
          workstationId: item.workstationId,
          action: 'restore',
          why: 'undo',
          runId: was?.runId ?? null,
          slot: was?.slot ?? null,
          profileHash: before?.hash ?? null,
          fileName: was?.fileName ?? null,
          description: was?.description ?? (before?.path ? 'what was there before' : 'no profile'),
          scope: was?.scope ?? placement.scope,
          requestedAt: at,
          accountId: null,
          waveId: wave.id,
          restores: before?.associations ?? { machine: [], user: [], perUser: false },
        })
        take(written('UPDATE wave_item SET undo_id = ? WHERE id = ?', [undoId, item.id]))
      }
    }),
  )
  tend(items.map((i) => i.workstationId))
}
