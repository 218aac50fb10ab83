export type { HowAnswered } from './answerForm.ts'
export * from './howToAsk.ts'
export { WAYS_OF_ASKING } from './readyMade.ts'
export {
  boundsOf,
  PROBE_RANGES,
  readOrder,
  usualBounds,
  type ProbeBounds,
  type ProbeRange,
  type ReadOrder,
  type StatedOrder,
  type StatedShape,
} from './order.ts'
export { promptOf } from './prompt.ts'
export {
  FINDING_COSTS,
  isJudging,
  MOST_AT_ONCE,
  MOST_THROUGH_SERVER,
  partsOfShape,
  sentOfLog,
  type Asking,
  type PartShown,
  type ProbePart,
  type ProbeShape,
} from './shape.ts'
export { probedCsv, type ProbedRequest, type ProbeOutcome } from './probed.ts'
export { readProbed } from './readProbed.ts'
export * from './costs/index.ts'
export { shownBy, summarisePart, type PartSummary, type ProbedPercentiles, type ProbePromise } from './summary.ts'
export { endWords, reasonWords, takenFor, type CutShort } from './probeWords.ts'
export { probedTables, type ProbedTable } from './probedTable.ts'
export type { Price } from './price.ts'
export { priceOfTime } from './priceOfTime.ts'
export { askedAt, askedWith } from './askedAt.ts'
export { rungOf, rungsBeside, type Rung } from './worth/rungs.ts'
export { worldsAndWorth, type Worth, type WorldsAndWorth, type WorthReport } from './worth/worth.ts'
export { worthWords } from './worth/worthWords.ts'
export { idleOf, idleShown, idleWords, type IdleShown } from './idle.ts'
