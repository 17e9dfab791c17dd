/** What a policy can be given for, the nearest first. */
export const policyLevels = ['display', 'room', 'aim', 'studio'] as const
export type PolicyLevel = (typeof policyLevels)[number]

/** Which profile belongs in force: that of the slot that is shown, of one slot by its number, or none of ours. */
export type ProfileRule = 'shown' | 'none' | number

/** What each rule of a policy may be, besides numbers. */
export const ruleWords = {
  scope: ['machine', 'user'],
  whenOther: ['tell', 'put back once', 'put back always'],
  whenSwitched: ['follow', 'tell', 'switch back'],
  fresh: ['at once', 'gathered', 'by a person'],
  loader: ['tell', 'put back'],
  programs: ['tell', 'set'],
  note: ['leave one', 'none'],
} as const
type Words = { readonly [K in keyof typeof ruleWords]: (typeof ruleWords)[K][number] }

/** What shall hold for a display’s profile. */
export interface Rules extends Words {
  readonly profile: ProfileRule
  /** Old files of ours that stay on a workstation for each display. */
  readonly keepOld: number
}
export type RuleName = keyof Rules

/** Largest number of old files that may be asked for. */
export const mostOldFiles = 50

/** What holds where nobody decided: nothing happens by itself, and everything is told. */
export const usualRules: Rules = {
  profile: 'shown',
  scope: 'machine',
  whenOther: 'tell',
  whenSwitched: 'tell',
  fresh: 'by a person',
  keepOld: 3,
  loader: 'tell',
  programs: 'tell',
  note: 'leave one',
}
export const ruleNames = Object.keys(usualRules) as RuleName[]

/** Some rules, for one thing; a rule that is left out is looked for further away. */
export interface Policy {
  readonly level: PolicyLevel
  /** The display, room or aim by its number; 0 for the studio. */
  readonly of: number
  readonly rules: Partial<Rules>
}

/** What policies are looked up by. */
export interface PolicySubject {
  readonly display: number
  readonly room: number
  /** The aim that the slot on show was written for; null when that is no aim of the list. */
  readonly aim: number | null
}

/** Where a rule comes from: a level, or what holds where nobody decided. */
export type RuleOrigin = PolicyLevel | 'usual'

export interface HeldPolicy {
  readonly rules: Rules
  readonly origins: Readonly<Record<RuleName, RuleOrigin>>
}

/** Policies in a shape to ask for thousands of displays: gives for each, rule by rule, the nearest that decides it. */
export function policyBook(policies: readonly Policy[]): (subject: PolicySubject) => HeldPolicy {
  const byLevel = new Map(policies.map((p) => [`${p.level} ${p.level === 'studio' ? 0 : p.of}`, p.rules]))
  return ({ display, room, aim }) => {
    const of: Readonly<Record<PolicyLevel, number | null>> = { display, room, aim, studio: 0 }
    const near = policyLevels.flatMap((level) => {
      const rules = of[level] === null ? undefined : byLevel.get(`${level} ${of[level]}`)
      return rules ? [{ level, rules }] : []
    })
    const rules: Record<string, unknown> = {}
    const origins: Record<string, RuleOrigin> = {}
    for (const name of ruleNames) {
      const nearest = near.find((p) => p.rules[name] !== undefined)
      rules[name] = nearest ? nearest.rules[name] : usualRules[name]
      origins[name] = nearest?.level ?? 'usual'
    }
    return { rules, origins } as unknown as HeldPolicy
  }
}
