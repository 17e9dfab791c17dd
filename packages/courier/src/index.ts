export * from './courier'
export * from './devices'
export * from './dispatch'
export { nodeHash } from './nodeHash'
