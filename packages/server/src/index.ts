export * from './server'
export * from './runs/solver'
export { openStore } from './data/store'
export { refreshSlotDrift } from './drift/history'
