export { solver } from './solver.ts'
export { trialPool, usualThreads } from './trialPool.ts'
