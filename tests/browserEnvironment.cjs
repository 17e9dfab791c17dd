require('./compiledOnce.cjs')
const { TestEnvironment } = require('jest-environment-jsdom')

/** A channel as React's scheduler uses it: what is posted at one end is heard at the other, later. */
class Channel {
  constructor() {
    this.port1 = { onmessage: null, close() {} }
    this.port2 = { postMessage: (data) => void setTimeout(() => this.port1.onmessage?.({ data }), 0), close() {} }
  }
}

/** A browser's page without layout, with what jsdom leaves out of what browsers have. */
module.exports = class extends TestEnvironment {
  async setup() {
    await super.setup()
    for (const name of ['TextEncoder', 'TextDecoder', 'structuredClone', 'fetch', 'Response'])
      if (this.global[name] === undefined) this.global[name] = globalThis[name]
    this.global.MessageChannel ??= Channel
    // A page without layout has no width that anything could fit.
    this.global.matchMedia ??= (media) => ({
      media,
      matches: false,
      addListener() {},
      removeListener() {},
      addEventListener() {},
      removeEventListener() {},
    })
    // What is written on an element itself: matching it against every rule of Ant Design takes most of a test's time.
    this.global.getComputedStyle = (element) => element.style ?? this.global.document.documentElement.style
    this.global.ResizeObserver ??= class {
      observe() {}
      unobserve() {}
      disconnect() {}
    }
  }
}
