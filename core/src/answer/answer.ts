import type { Money } from '../cost/money.ts'
import type { PlanMoney } from '../cost/planMoney.ts'
import type { Interval } from '../measure/interval.ts'
import type { Certainty } from '../measure/certainty.ts'
import type { CallersMet } from '../measure/callersMet.ts'
import type { ClassSummary } from '../measure/summary.ts'
import type { Plan, Target } from '../plan/schema.ts'
import type { ProfileSource } from '../service/profile.ts'
import type { BindingPart } from '../search/binding.ts'
import type { Breaking } from '../search/breaking.ts'
import type { WorldsSeen } from '../search/found.ts'
import type { Rejection } from '../search/rejection.ts'
import type { GuardReport } from './guard.ts'
import type { OptionName } from '../candidate/optionName.ts'

export const ANSWER_FORMAT = 'sand-clock-answer'
/** 2: ways of paying and settings are data, no sentences; see `formerAnswer.ts`. */
export const ANSWER_VERSION = 2

/** One target of a configuration, with what independent seeds say of it. */
export interface TargetAnswer {
  className: string
  target: Target
  /** whether it "meets", is "likely" to, or "misses"; with the plan's margin */
  certainty: Certainty
  interval: Interval | null
  /** share of the full target that is left: 0.2 is 20 %; null when nothing was measured */
  headRoom: number | null
}

/** A configuration with its price and what it promises. */
export interface Choice extends OptionName {
  model: string
  machines: number
  replicas: number
  /** machines that are there, averaged over the horizon */
  meanMachines: number
  /** the most that are there at one time, of all draws: a policy may ask for more than it ever does */
  mostMachines: number
  /** machines that are paid always, used or not */
  committedMachines: number
  /** what the same costs with none of them committed to, a month; null where the offer is not for rent on demand */
  uncommittedPerMonth: number | null
  profileSource: ProfileSource
  /** what its step costs rely on, and how far beyond a measurement they go: sentences without a full stop */
  reliance: string[]
  money: Money
  targets: TargetAnswer[]
  /** where the plan asks for a certainty: in how many worlds it was seen to hold, of those that were run until it was plain */
  worlds?: WorldsSeen
  /**
   * what it costs more than the chosen one, a month, over the same draws of the load: a tie when the interval holds 0; null for the chosen
   * one itself
   */
  dearer: Interval | null
}

export interface RejectedOption extends OptionName {
  rejection: Rejection
  /** the reason as a sentence, with its figure */
  reason: string
  /**
   * what it costs at the least, with what the reason speaks of; of what was not run for one group of machines; null where calls are all
   * that costs
   */
  leastPerHour: number | null
  /**
   * the tightest promise alone on an idle replica, over its limit with head-room taken off: under load it is no better; null where nothing
   * fits
   */
  leastStrain: number | null
}

export interface ServiceAnswer {
  service: string
  /** null when nothing meets the targets; of a service that searches nothing what it states, whether it keeps its promises or not */
  chosen: Choice | null
  runnersUp: Choice[]
  /** why a cheaper option of this service was passed over for the sake of the whole plan; null when none was */
  passedOver: string | null
  rejected: RejectedOption[]
  candidates: number
  simulations: number
  /** binding: what gives way under the load that breaks it; null where nothing does or only lost requests break it */
  breaking: (Breaking & { binding: BindingPart | null }) | null
  classes: ClassSummary[]
  /** what the callers of each class met, on the first draw */
  met: CallersMet[]
  /** what its guard does; left out where it has none */
  guard?: GuardReport
}

/** A whole plan answered. Running the same plan again gives the same answer, bit for bit. */
export interface Answer {
  format: typeof ANSWER_FORMAT
  version: typeof ANSWER_VERSION
  coreVersion: string
  plan: Plan
  services: ServiceAnswer[]
  /** every service has a configuration that meets its targets, and all of it is within the budget */
  meets: boolean
  currency: string
  /** machines of all services and what is paid beside them */
  perHour: number
  perMonth: number
  money: PlanMoney
  /** a sentence when services compete for the same machines and the ranked options can not be had together */
  conflict: string | null
}
