export * from './server'
export * from './runs/solver'
