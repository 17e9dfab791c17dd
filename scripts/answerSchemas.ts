import ts from 'typescript'

type Json = Record<string, unknown>

/** The file whose type tells what each route answers with, and the type's name. */
const source = 'packages/server/src/http/answers.ts'
const root = 'Answers'

/** Makes JSON Schemas (2020-12) of types, as the compiler understands them. */
class Schemas {
  readonly definitions: Record<string, Json> = {}
  private readonly names = new Map<ts.Type, string>()

  constructor(private readonly checker: ts.TypeChecker) {}

  of(type: ts.Type): Json {
    const name = this.nameOf(type)
    if (name === null) return this.shapeOf(type)
    if (!(name in this.definitions)) {
      // Noted first: a type may hold itself.
      this.definitions[name] = {}
      this.definitions[name] = this.shapeOf(type)
    }
    return { $ref: `#/components/schemas/${name}` }
  }

  /** What a type is called among the definitions; null for one that is written where it stands. */
  private nameOf(type: ts.Type): string | null {
    const known = this.names.get(type)
    if (known) return known
    const symbol = type.aliasSymbol ?? (type.flags & ts.TypeFlags.Object ? type.getSymbol() : undefined)
    const declaration = symbol?.declarations?.[0]
    const named =
      symbol &&
      declaration &&
      !/^__|^(Record|Pick|Omit|Partial|Readonly|Array|ReadonlyArray|Extract|Exclude|Required)$/.test(symbol.name) &&
      (ts.isInterfaceDeclaration(declaration) || ts.isTypeAliasDeclaration(declaration)) &&
      !declaration.getSourceFile().fileName.includes('node_modules/')
    if (!named || type.isStringLiteral()) return null
    const given = type.aliasTypeArguments ?? this.checker.getTypeArguments(type as ts.TypeReference)
    const of = given.filter((t) => !(t.flags & ts.TypeFlags.TypeParameter)).map((t) => this.nameOf(t))
    if (of.some((n) => n === null)) return null
    const base = [symbol.name, ...of].join('Of')
    let name = base
    for (let n = 2; [...this.names.values()].includes(name); n++) name = `${base}${n}`
    this.names.set(type, name)
    return name
  }

  private shapeOf(type: ts.Type): Json {
    const { checker } = this
    if (type.flags & (ts.TypeFlags.Any | ts.TypeFlags.Unknown)) return {}
    if (type.flags & ts.TypeFlags.Null) return { type: 'null' }
    if (type.isStringLiteral() || type.isNumberLiteral()) return { const: type.value }
    if (type.flags & ts.TypeFlags.BooleanLiteral) return { const: checker.typeToString(type) === 'true' }
    if (type.flags & (ts.TypeFlags.String | ts.TypeFlags.TemplateLiteral)) return { type: 'string' }
    if (type.flags & ts.TypeFlags.Number) return { type: 'number' }
    if (type.flags & ts.TypeFlags.Boolean) return { type: 'boolean' }
    if (type.isUnion()) return this.unionOf(type)
    if (checker.isTupleType(type)) {
      const each = checker.getTypeArguments(type as ts.TypeReference)
      return { type: 'array', prefixItems: each.map((t) => this.of(t)), minItems: each.length, maxItems: each.length }
    }
    if (checker.isArrayType(type))
      return { type: 'array', items: this.of(checker.getTypeArguments(type as ts.TypeReference)[0]) }
    return this.objectOf(type)
  }

  private unionOf(type: ts.UnionType): Json {
    const parts = type.types.filter((t) => !(t.flags & ts.TypeFlags.Undefined))
    const literal = (t: ts.Type) => t.isStringLiteral() || t.isNumberLiteral()
    const isBoolean = (t: ts.Type) => Boolean(t.flags & ts.TypeFlags.BooleanLiteral)
    const values = parts.filter(literal).map((t) => (t as ts.LiteralType).value)
    const others = parts.filter((t) => !literal(t) && !isBoolean(t)).map((t) => this.of(t))
    const booleans = parts.filter(isBoolean)
    if (booleans.length === 2) others.push({ type: 'boolean' })
    else for (const b of booleans) others.push(this.shapeOf(b))
    if (values.length) others.unshift(values.length === 1 ? { const: values[0] } : { enum: values })
    return others.length === 1 ? others[0] : { anyOf: others }
  }

  private objectOf(type: ts.Type): Json {
    const { checker } = this
    const properties: Json = {}
    const required: string[] = []
    for (const property of checker.getPropertiesOfType(type)) {
      const of = checker.getTypeOfSymbol(property)
      if (of.getCallSignatures().length) continue
      const isOptional = Boolean(property.flags & ts.SymbolFlags.Optional)
      const about = ts.displayPartsToString(property.getDocumentationComment(checker)).trim()
      const schema = this.of(isOptional && of.isUnion() ? checker.getNonNullableType(of) : of)
      const mayBeNull = isOptional && of.isUnion() && of.types.some((t) => t.flags & ts.TypeFlags.Null)
      const told = mayBeNull ? { anyOf: [schema, { type: 'null' }] } : schema
      properties[property.name] = about ? { description: about.replaceAll(/\s+/g, ' '), ...told } : told
      if (!isOptional) required.push(property.name)
    }
    const index = checker.getIndexInfosOfType(type)[0]
    return {
      type: 'object',
      properties,
      ...(required.length && { required }),
      additionalProperties: index ? this.of(index.type) : false,
    }
  }
}

/** What routes answer with: a schema for each, and the definitions that they name. */
export function answerSchemas(): { answers: Record<string, Json>; definitions: Record<string, Json> } {
  const { config } = ts.readConfigFile('tsconfig.json', (path) => ts.sys.readFile(path))
  const { options } = ts.parseJsonConfigFileContent(config, ts.sys, '.')
  const program = ts.createProgram([source], { ...options, noEmit: true })
  const checker = program.getTypeChecker()
  const file = program.getSourceFile(source)!
  const exported = checker.getExportsOfModule(checker.getSymbolAtLocation(file)!)
  const type = checker.getDeclaredTypeOfSymbol(exported.find((s) => s.name === root)!)
  const schemas = new Schemas(checker)
  const answers: Record<string, Json> = {}
  for (const property of checker.getPropertiesOfType(type)) {
    const answer = checker.getTypeOfSymbol(property)
    if (!(answer.flags & ts.TypeFlags.Never)) answers[property.name] = schemas.of(answer)
  }
  return { answers, definitions: schemas.definitions }
}
