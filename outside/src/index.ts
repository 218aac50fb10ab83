/** What asks machines outside of this program, for the server and the command line alike. */
export { askHistory, type HistoryQuestion } from './askHistory.ts'
export { isAllowed } from './allowed.ts'
