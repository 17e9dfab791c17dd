import type { CubeFile } from './cube'

const plain = (v: number) => String(Number(v.toFixed(7)))

/** Writes a table in the .cube layout, seven digits behind the point. */
export function writeCube({ title, domain, table1d, table3d }: CubeFile): string {
  const out: string[] = [`TITLE "${title.replace(/["\r\n]/g, ' ')}"`]
  if (table1d) out.push(`LUT_1D_SIZE ${table1d.channels[0].length}`)
  if (table3d) out.push(`LUT_3D_SIZE ${table3d.size}`)
  out.push(`DOMAIN_MIN ${domain.least.map(plain).join(' ')}`, `DOMAIN_MAX ${domain.most.map(plain).join(' ')}`)
  if (table1d)
    for (let i = 0; i < table1d.channels[0].length; i++) out.push(table1d.channels.map((c) => plain(c[i])).join(' '))
  if (table3d) {
    const { size, values } = table3d
    for (let b = 0; b < size; b++)
      for (let g = 0; g < size; g++)
        for (let r = 0; r < size; r++) {
          const at = 3 * ((r * size + g) * size + b)
          out.push(`${plain(values[at])} ${plain(values[at + 1])} ${plain(values[at + 2])}`)
        }
  }
  return `${out.join('\n')}\n`
}
