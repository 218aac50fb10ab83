/** What reads logs, with the parsers that it needs: loaded when the first of them comes. */
export { peekLog, readRequestLog } from '@sandclock/core'
