/** How a request ended, or that it has not: codes of `RunRecord.outcome`. */
export const Outcome = { unfinished: 0, finished: 1, rejected: 2, abandoned: 3, failed: 4 } as const

export type OutcomeCode = (typeof Outcome)[keyof typeof Outcome]

/** Names by code, as they stand in files. */
export const OUTCOME_NAMES = ['unfinished', 'finished', 'rejected', 'abandoned', 'failed'] as const

/** Why an attempt was turned away or given up: codes of `RunRecord.rejectCause` and rows of `RunRecord.lostAttempts`. */
export const RejectCause = { none: 0, tooLarge: 1, queueFull: 2, rateLimited: 3, impatient: 4, replicaLost: 5, asleep: 6 } as const
export const CAUSES = 7
