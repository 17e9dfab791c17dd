import { written, type Take } from '../data/atomically'

/**
 * The statements by which a display takes another's place in every peer set that it is in; a slot that it does not have
 * becomes its last. Nothing of the new one has been read, so that their ground has moved.
 */
export function takeOverInSets(take: Take, from: number, to: number, slots: number): void {
  take(
    written('UPDATE peer_set SET due = due + 1 WHERE id IN (SELECT set_id FROM peer_member WHERE display_id = ?)', [
      from,
    ]),
  )
  // What was matched by eye was another panel's light.
  take(
    written(`UPDATE peer_match SET state = 'ended' WHERE state = 'in force' AND ? IN (display_id, beside_id)`, [from]),
  )
  take(written('UPDATE peer_set SET reference_id = ? WHERE reference_id = ?', [to, from]))
  take(written('UPDATE peer_member SET display_id = ?, slot = MIN(slot, ?) WHERE display_id = ?', [to, slots, from]))
}
