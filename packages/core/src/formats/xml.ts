import { SaxesParser } from 'saxes'
import { FormatError } from './formatError'

/** An element of an XML file, by its local name. */
export interface XmlElement {
  readonly name: string
  readonly attributes: Readonly<Record<string, string>>
  readonly line: number
}

export interface XmlVisitor {
  readonly open?: (element: XmlElement, path: readonly XmlElement[]) => void
  /** `text` is what stood directly inside the element. */
  readonly close?: (element: XmlElement, text: string, path: readonly XmlElement[]) => void
}

const deepest = 64
const local = (name: string) => name.slice(name.indexOf(':') + 1)

/**
 * Walks an XML file in one pass, without entities of its own and no deeper than 64 elements. Throws FormatError with the
 * line for anything that is no well-formed XML; a visitor may throw it too.
 */
export function walkXml(text: string, { open, close }: XmlVisitor): void {
  const parser = new SaxesParser({ position: true })
  const path: (XmlElement & { text: string[] })[] = []
  parser.on('error', (error) => {
    throw new FormatError(`The XML is broken: ${error.message.replace(/^\d+:\d+: /, '')}.`, parser.line)
  })
  parser.on('doctype', () => {
    throw new FormatError('A document type is not accepted.', parser.line)
  })
  parser.on('opentag', ({ name, attributes }) => {
    const own: Record<string, string> = {}
    for (const [key, value] of Object.entries(attributes)) own[local(key)] = value
    const element = { name: local(name), attributes: own, line: parser.line, text: [] }
    if (path.length >= deepest)
      throw new FormatError(`Elements stand more than ${deepest} deep in each other.`, parser.line)
    open?.(element, path)
    path.push(element)
  })
  const addText = (t: string) => path[path.length - 1]?.text.push(t)
  parser.on('text', addText)
  parser.on('cdata', addText)
  parser.on('closetag', () => {
    const element = path.pop()!
    close?.(element, element.text.join(''), path)
  })
  parser.write(text.replace(/^\uFEFF/, '')).close()
}

/** Text as it may stand in an attribute or between tags. */
export const escapeXml = (text: string): string =>
  text
    .replace(/[\p{Cc}\p{Cs}\ufffe\uffff]/gu, ' ')
    .replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!)
