const fill = (unit: string, size: number) => unit.repeat(Math.ceil(size / unit.length))

/** Files of any size that a reader could lose itself in, by what they are made of. */
export const largeTexts: Readonly<Record<string, (size: number) => string>> = {
  'column names': (size) => Array.from({ length: size / 8 }, (_, i) => `C${String(i).padStart(6, '0')}`).join(','),
  'empty lines': (size) => fill('\n', size),
  'lines of blanks': (size) => fill(' \t\n', size),
  'one line of blanks': (size) => fill(' ', size),
  'quotation marks': (size) => fill('"', size),
  'quoted words without commas': (size) => fill('"a" ', size),
  'a quotation that never ends': (size) => `R,G,B,X,Y,Z\n"${fill('a\n', size)}`,
  semicolons: (size) => fill(';', size),
  'fields of CGATS': (size) => `BEGIN_DATA_FORMAT\n${fill('FIELD ', size)}\nBEGIN_DATA`,
  'keywords of CGATS': (size) => `${fill('KEYWORD "x"\n', size)}BEGIN_DATA\n`,
  'rows of CGATS': (size) => `BEGIN_DATA_FORMAT\nA\nEND_DATA_FORMAT\nBEGIN_DATA\n${fill('1\n', size)}END_DATA\n`,
  'elements of XML': (size) => fill('<a>', size),
  'attributes of XML': (size) => `<CxF ${fill('a="1" ', size)}>`,
  'comments of XML': (size) => `<CxF>${fill('<!-- x -->', size)}`,
  'text of XML': (size) => `<CxF>${fill('x&amp;', size)}</CxF>`,
  readings: (size) => `RGB_R,RGB_G,RGB_B,XYZ_X,XYZ_Y,XYZ_Z\n${fill('0.5,0.5,0.5,20,21,23\n', size)}`,
}
