/** What reads and describes logs, with the parsers that it needs: loaded when the first of them comes. */
export { begunFromLog, fitLog, peekLog, readRequestLog } from '@sandclock/core'
