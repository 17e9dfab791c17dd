const { join } = require('node:path')

/** Where a program of this checkout lies once it is built, by its source. */
exports.builtProgram = (source) => join(__dirname, '..', 'build', source.replace(/\.ts$/, '.mjs'))

/** What Node is told before a program: with its usual young generation a server of a large fleet holds a fifth more memory. */
exports.nodeFlags = ['--max-semi-space-size=8']
