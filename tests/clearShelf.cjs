module.exports = async () => globalThis.clearShelf?.()
