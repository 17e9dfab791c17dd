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

// Folders of a package that have an order: each may import from those before it; files beside them stand above all.
const order = {
  core: [
    'basics',
    'ledger',
    'tone',
    'color',
    'tables',
    'aims',
    'characterization',
    'register',
    'runs',
    'profiles',
    'gamut',
    'formats',
    'drift',
    'rounds',
    'rollout',
    'peers',
    'floor',
    'review',
  ],
  server: [
    'data',
    'http',
    'ledger',
    'access',
    'couriers',
    'studio',
    'aims',
    'register',
    'runs',
    'drift',
    'rounds',
    'rollout',
    'peers',
    'floor',
    'review',
    'app',
  ],
  web: [
    'theme',
    'api',
    'parts',
    'charts',
    'access',
    'ledger',
    'aims',
    'review',
    'rollout',
    'register',
    'runs',
    'drift',
    'rounds',
    'peers',
    'floor',
  ],
}
const inOrder = Object.entries(order).flatMap(([name, folders]) =>
  folders.slice(0, -1).map((folder, i) => ({
    name: `${name}-${folder}-imports-below`,
    comment: `In packages/${name}, ${folder} may import ${folders.slice(0, i).join(', ') || 'no other folder'} only.`,
    severity: 'error',
    from: { path: `^packages/${name}/src/${folder}/`, pathNot: '\\.test\\.tsx?$' },
    to: {
      path: `^packages/${name}/src/(?:(?:${folders.slice(i + 1).join('|')})/|[^/]+$)`,
    },
  })),
)

module.exports = {
  forbidden: [
    ...inOrder,
    {
      name: 'every-folder-has-its-place',
      comment: 'A new folder of an ordered package gets its place in the order.',
      severity: 'error',
      from: {},
      to: {
        path: Object.entries(order)
          .map(([name, folders]) => `^packages/${name}/src/(?!(?:${folders.join('|')}|test)/)[^/]+/`)
          .join('|'),
      },
    },
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
