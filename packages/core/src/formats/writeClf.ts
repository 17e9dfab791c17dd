import type { ClfFile, ClfNode } from './clf'
import { escapeXml } from './xml'

const digits = (v: number) => String(Number(v.toPrecision(9)))

function writeNode(node: ClfNode): string {
  const tag = (attributes: string, inner: string) =>
    `  <${node.kind} inBitDepth="32f" outBitDepth="32f"${attributes}>\n${inner}\n  </${node.kind}>`
  const array = (dim: string, rows: string[]) => `    <Array dim="${dim}">\n${rows.join('\n')}\n    </Array>`
  switch (node.kind) {
    case 'LUT1D': {
      const [r, g, b] = node.table.channels
      return tag(
        '',
        array(
          `${r.length} 3`,
          Array.from(r, (v, i) => `${digits(v)} ${digits(g[i])} ${digits(b[i])}`),
        ),
      )
    }
    case 'LUT3D': {
      const { size, values } = node.table
      const rows = Array.from({ length: size ** 3 }, (_, i) =>
        [values[3 * i], values[3 * i + 1], values[3 * i + 2]].map(digits).join(' '),
      )
      return tag(` interpolation="${node.interpolation}"`, array(`${size} ${size} ${size} 3`, rows))
    }
    case 'Matrix':
      return tag(
        '',
        array(
          '3 4',
          node.matrix.map((row, r) => [...row, node.offset[r]].map(digits).join(' ')),
        ),
      )
    case 'Range': {
      const [least, most] = [node.least ?? 0, node.most ?? 1]
      const back = (v: number) => (v - node.shift) / node.slope
      const bounds = [
        ['minInValue', back(least)],
        ['maxInValue', back(most)],
        ['minOutValue', least],
        ['maxOutValue', most],
      ] as const
      const style = node.least === null && node.most === null ? ' style="noClamp"' : ''
      return tag(style, bounds.map(([name, v]) => `    <${name}>${digits(v)}</${name}>`).join('\n'))
    }
  }
}

/** Writes a Common LUT Format file, version 3.0, in 32-bit floats. */
export const writeClf = ({ id, description, nodes }: ClfFile): string =>
  [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<ProcessList xmlns="urn:AMPAS:CLF:v3.0" id="${escapeXml(id)}" compCLFversion="3.0">`,
    `  <Description>${escapeXml(description)}</Description>`,
    ...nodes.map(writeNode),
    '</ProcessList>',
    '',
  ].join('\n')
