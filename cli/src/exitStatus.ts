export const MET = 0
export const NOT_MET = 1
export const BAD_INPUT = 2
export type ExitStatus = typeof MET | typeof NOT_MET | typeof BAD_INPUT
