import type { Found } from '../plan/schema.ts'
import type { Calibration } from './measured/calibration.ts'
import type { MemorySplit } from './memory.ts'
import type { Misfit, SlotBound } from './misfit.ts'
import type { Profile, ProfileSource } from './profile.ts'

/** Whether a replica fits where it was looked at, and what it is there. */
export type Fit =
  | {
      fits: true
      memory?: MemorySplit
      source: ProfileSource
      /** the fit behind a measured profile */
      calibration?: Calibration
      /** behind which requests a measured profile was found, where it was found behind single ones */
      found?: Found
      /** requests in service that ceilings, memory for items or cores have room for; Infinity when they say nothing */
      mostSequences: number
      boundBy: SlotBound
      profile: (limits: { sequences: number }) => Profile
    }
  | { fits: false; misfit: Misfit; memory?: MemorySplit }
