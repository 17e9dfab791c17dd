const vm = require('node:vm')

const { compileFunction } = vm
/** What a worker has compiled, by its file: the source, and what the engine made of it. */
const compiled = new Map()

// Jest compiles every module anew for every file of tests. The engine takes what it made of the same source before; if
// that does not fit it compiles as it always did.
vm.compileFunction = (source, parameters, options = {}) => {
  const known = compiled.get(options.filename)
  if (known?.source === source) return compileFunction(source, parameters, { ...options, cachedData: known.data })
  const made = compileFunction(source, parameters, { ...options, produceCachedData: true })
  if (made.cachedData) compiled.set(options.filename, { source, data: made.cachedData })
  return made
}
