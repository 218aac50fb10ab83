import type { Requests } from '../demand/requests.ts'
import { aloneSeconds, slowness, type SharedProfile, type SoldProfile } from '../service/profile.ts'
import type { ClassRules } from './rules.ts'
import { soldTimes } from './soldTimes.ts'

/** What requests side by side on one replica take, and how they slow each other. */
export interface SideBySide {
  slots: number
  /** seconds that pass for each second of own work while n are in service */
  slowness: (n: number) => number
  /** seconds that a request needs alone */
  needs: (request: number) => number
  /** of those, until its first token; null where an answer comes whole */
  untilFirst: ((request: number) => number) | null
  tooLarge: (request: number) => boolean
}

/** Answers come whole, and whoever is there slows the others. */
export function sharedCosts(profile: SharedProfile, { input, output }: Requests): SideBySide {
  return {
    slots: profile.slots,
    slowness: (n) => slowness(profile, n),
    needs: (request) => aloneSeconds(profile, input[request], Math.max(1, output[request])),
    untilFirst: null,
    tooLarge: () => false,
  }
}

/** Answers come token by token, and nobody notices the others. */
export function soldCosts(profile: SoldProfile, requests: Requests, classes: readonly ClassRules[], seed: number): SideBySide {
  const { first, whole } = soldTimes(profile, requests, classes, seed)
  return {
    slots: profile.slots,
    slowness: () => 1,
    needs: whole,
    untilFirst: first,
    tooLarge: (request) => requests.input[request] + requests.output[request] > profile.requestTokens,
  }
}
