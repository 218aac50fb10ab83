export { trialPool, usualThreads } from './trialPool.ts'
