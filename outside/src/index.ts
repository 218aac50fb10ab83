/** What asks machines outside of this program, for the server and the command line alike, and a machine that stands in for such. */
export { askHistory, type HistoryQuestion } from './askHistory.ts'
export { serveStandIn, type ServedStandIn } from './standIn/serveStandIn.ts'
export { isAllowed } from './allowed.ts'
export { runProbe, type ProbeOrder, type ProbeRecord } from './probe/probe.ts'
export { histogramOf, type HistogramBin } from './probe/histogram.ts'
