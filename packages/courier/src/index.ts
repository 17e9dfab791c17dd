export * from './courier'
export * from './devices'
export * from './dispatch'
