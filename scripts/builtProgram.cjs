const { join } = require('node:path')

/** Where a program of this checkout lies once it is built, by its source. */
exports.builtProgram = (source) => join(__dirname, '..', 'build', source.replace(/\.ts$/, '.mjs'))
