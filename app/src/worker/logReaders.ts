/** What reads and describes logs and metrics histories, with the parsers that it needs: loaded when the first of them comes. */
export { begunFromLog, fitLog, peekLog, readRequestLog } from '@sandclock/core'
export { describeHistory, openHistory } from './histories.ts'
