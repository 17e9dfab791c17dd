// Imports run downward only (docs/architecture.md draws the house). Each row: a package and what it may import.
const mayImport = {
  core: [],
  contract: ['core'],
  courier: ['contract', 'core'],
  bench: ['courier', 'contract', 'core'],
  server: ['contract', 'core'],
  web: ['contract', 'core'],
  cli: ['contract', 'core'],
}
const names = Object.keys(mayImport)

module.exports = {
  forbidden: [
    ...names.map((name) => ({
      name: `${name}-imports-downward`,
      comment: `packages/${name} may import ${mayImport[name].join(', ') || 'no other package'} only.`,
      severity: 'error',
      from: { path: `^packages/${name}/`, pathNot: '\\.test\\.tsx?$' },
      to: { path: `^packages/(${names.filter((n) => n !== name && !mayImport[name].includes(n)).join('|')})/` },
    })),
    {
      name: 'core-is-pure',
      comment: 'core has no I/O, no DOM and no Node API.',
      severity: 'error',
      from: { path: '^packages/core/src', pathNot: '\\.test\\.ts$|/test/' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'tests-do-not-ship',
      severity: 'error',
      from: { path: '^packages/[^/]+/src', pathNot: '\\.test\\.tsx?$|/test/' },
      to: { path: '\\.test\\.tsx?$|^packages/[^/]+/src/test/|^e2e/|^scripts/|^tests/' },
    },
    {
      name: 'no-circles',
      severity: 'error',
      from: { path: '^packages' },
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)(dist|node_modules)/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'default'],
      extensions: ['.ts', '.tsx', '.js', '.json'],
    },
  },
}
