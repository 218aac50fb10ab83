/**
 * How one kind of profile behaves at its boundaries. The floor holds lines and loads; an implementation holds what
 * is in service.
 */
export interface Replicas {
  /** Whether the request could be bound to the replica under a shared queue. */
  hasRoom(replica: number, request: number, now: number): boolean
  /** How many wait no more if the request is bound now, because they begin at this instant: 0 when it does not itself. */
  beginsAtOnce(replica: number, request: number): number
  /**
   * Called when a request came to the replica's line or to the head of it: its next boundary may move forward.
   * @param stepsAreOver whether the steps of this instant have been worked through, so that only later ones count
   */
  wake(replica: number, now: number, stepsAreOver: boolean): void
  /** Called when the head of the shared line changed by the act of a replica, or (−1) because someone left. */
  sharedHeadChanged(by: number, now: number): void
  /** A step boundary: finish, take from the shared line, admit, begin the next step. */
  boundary(replica: number, now: number): void
  /** Whether a single request is larger than a replica can ever take. */
  tooLarge(request: number): boolean
  /** Takes everything out of service, as if it had never begun; the replica is idle then. @returns the requests, in any order */
  dropAll(replica: number, now: number): number[]
}
