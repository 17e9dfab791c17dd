import type { DataSource } from 'typeorm'
import { policyBook, ruleNames, type HeldPolicy, type PolicyLevel, type Rules } from '@bichroma/core/rollout'
import { policySchema, validate, type PolicyListing } from '@bichroma/contract'
import { aimEntity } from '../aims/entities'
import { written } from '../data/atomically'
import type { Api } from '../http/api'
import { Refusal } from '../http/problem'
import { changesBetween, type Ledger } from '../ledger/ledger'
import { displayEntity, roomEntity } from '../register/entities'
import { policyEntity } from './entities'

/** What holds for displays, by display, room and aim. */
export type PolicyBook = (subject: { display: number; room: number; aim: number | null }) => HeldPolicy

/** Every policy that was given, to ask for any number of displays. */
export async function policiesNow(data: DataSource): Promise<PolicyBook> {
  const rows = await data.getRepository(policyEntity).find()
  return policyBook(rows.map(({ level, subjectId, rules }) => ({ level, of: subjectId, rules })))
}

const named: Readonly<
  Record<
    Exclude<PolicyLevel, 'studio'>,
    { entity: typeof displayEntity | typeof roomEntity | typeof aimEntity; word: string }
  >
> = {
  display: { entity: displayEntity, word: 'display' },
  room: { entity: roomEntity, word: 'room' },
  aim: { entity: aimEntity, word: 'aim' },
}

export function policyRoutes(
  api: Api,
  { data, ledger, now, changed }: { data: DataSource; ledger: Ledger; now: () => number; changed: () => void },
): void {
  const nameOf = async (level: PolicyLevel, of: number): Promise<string> => {
    if (level === 'studio') return 'the studio'
    const { entity, word } = named[level]
    const row = (await data.getRepository(entity as typeof roomEntity).findOneBy({ id: of })) as { name: string } | null
    if (!row) throw new Refusal('invalid-input', `“of” names no ${word} that is there; choose one.`, 'of')
    return row.name
  }

  api.on('GET /policies', async (): Promise<PolicyListing[]> => {
    const rows = await data.query<(Omit<PolicyListing, 'rules'> & { rules: string })[]>(
      `SELECT level, subject_id AS of, rules, changed_at AS changedAt, changed_by AS changedBy,
         CASE level WHEN 'display' THEN (SELECT name FROM display WHERE id = subject_id)
           WHEN 'room' THEN (SELECT name FROM room WHERE id = subject_id)
           WHEN 'aim' THEN (SELECT name FROM aim WHERE id = subject_id) ELSE 'the studio' END AS name
       FROM policy ORDER BY CASE level WHEN 'studio' THEN 0 WHEN 'aim' THEN 1 WHEN 'room' THEN 2 ELSE 3 END, name`,
    )
    return rows.filter((r) => r.name !== null).map((r) => ({ ...r, rules: JSON.parse(r.rules) as Partial<Rules> }))
  })

  api.on('PUT /policies', async (request) => {
    const { level, of, rules: asked } = validate(policySchema, request.body)
    const subjectId = of ?? 0
    const name = await nameOf(level, subjectId)
    const rules = Object.fromEntries(ruleNames.flatMap((r) => (asked[r] === undefined ? [] : [[r, asked[r]]])))
    const former = await data.getRepository(policyEntity).findOneBy({ level, subjectId })
    ledger.change(
      request.account,
      (take) =>
        take(
          Object.keys(rules).length
            ? written(
                `INSERT INTO policy (level, subject_id, rules, changed_at, changed_by) VALUES (?, ?, ?, ?, ?)
                 ON CONFLICT (level, subject_id) DO UPDATE SET rules = excluded.rules, changed_at = excluded.changed_at,
                   changed_by = excluded.changed_by`,
                [level, subjectId, JSON.stringify(rules), now(), request.account.name],
              )
            : written('DELETE FROM policy WHERE level = ? AND subject_id = ?', [level, subjectId]),
        ),
      () => ({
        act: Object.keys(rules).length ? 'changed' : 'removed',
        thing: 'policy',
        id: former?.id ?? null,
        name: `the policy of ${name}`,
        changes: changesBetween(
          { ...former?.rules },
          Object.fromEntries(
            ruleNames.map((r) => [r, rules[r] ?? (former?.rules[r] === undefined ? undefined : null)]),
          ),
        ),
        evidence: { level, of: subjectId },
      }),
    )
    changed()
    return {}
  })
}
