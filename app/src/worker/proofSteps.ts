import { BadInput, prove, type OneAsked, type Plan, type Proof, type Reading } from '@sandclock/core'

/** How far the search for what readings prove is, and in the end what they do, or why they prove nothing. */
export interface ProofProgress {
  settled: number
  of: number
  proof?: Proof
  message?: string
}

export function* proofSteps(plan: Plan, asked: OneAsked, read: readonly Reading[]): Generator<ProofProgress, ProofProgress> {
  try {
    const proof = yield* prove(plan, asked, read)
    return { settled: 1, of: 1, proof }
  } catch (error) {
    if (error instanceof BadInput) return { settled: 1, of: 1, message: error.message }
    throw error
  }
}
