export { solver } from './solver.ts'
export { TrialThreads, trialPool, usualThreads } from './trialPool.ts'
