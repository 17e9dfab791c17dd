const { TestEnvironment } = require('jest-environment-jsdom')

/** A browser's page without layout, with what jsdom leaves out of what browsers have. */
module.exports = class extends TestEnvironment {
  async setup() {
    await super.setup()
    for (const name of ['TextEncoder', 'TextDecoder', 'structuredClone', 'fetch', 'Response'])
      if (this.global[name] === undefined) this.global[name] = globalThis[name]
  }
}
