import { dictionary } from '@zxcvbn-ts/language-common'

let common: ReadonlySet<string> | null = null

/** Whether a password is among the ones that everybody tries first, whatever its case: a list that ships with us. */
export function isCommonPassword(password: string): boolean {
  common ??= new Set((dictionary['passwords-common'] as readonly string[]).map((p) => p.toLowerCase()))
  const plain = password.toLowerCase()
  // One that is only repeated, or lengthened by figures at its end, is tried as soon.
  return common.has(plain) || common.has(plain.replace(/\d+$/, '')) || isRepeated(plain)
}

/** Whether it is one short piece again and again. */
function isRepeated(text: string): boolean {
  for (let length = 1; length <= text.length / 3; length++)
    if (
      text ===
      text
        .slice(0, length)
        .repeat(Math.ceil(text.length / length))
        .slice(0, text.length)
    )
      return true
  return false
}
