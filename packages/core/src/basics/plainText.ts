/**
 * What no text on one line may hold: control characters, halves of characters (lone surrogates), separators of lines and
 * paragraphs, and marks that turn the direction of what follows, by which a name can be made to read as another.
 * Unicode Standard Annex 9.
 */
const unwanted = '[\\p{Cc}\\p{Cs}\\p{Zl}\\p{Zp}\\u061C\\u200E\\u200F\\u202A-\\u202E\\u2066-\\u2069]'
const one = new RegExp(unwanted, 'u')
const every = new RegExp(unwanted, 'gu')

/** Whether a text reads as it is written, on one line. */
export const isPlainText = (text: string): boolean => !one.test(text)

/** A text with a dot for everything that would break its line or turn its direction. */
export const onOneLine = (text: string): string => text.replace(every, '·')
