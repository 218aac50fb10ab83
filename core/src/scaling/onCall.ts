import type { Controller } from '../life/controller.ts'

/**
 * Instances that are sold by the call: nothing reads and nothing scales; each caller who finds no room among those that are
 * there or on their way brings one more, and one without calls goes after a while.
 *
 * @param perReplica calls that an instance serves side by side
 */
export function onCall(most: number, perReplica: number, keptSeconds: number): Controller {
  return {
    intervalSeconds: Infinity,
    initial: 0,
    most,
    nextPing: () => Infinity,
    wish: ({ current }) => ({ replicas: current, cause: 'caller-without-room' }),
    onCall: { perReplica, keptSeconds },
  }
}
