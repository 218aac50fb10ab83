/** One machine (or the machines over which one replica lies) that is rented. */
export interface Node {
  number: number
  state: 'coming' | 'there' | 'noticed' | 'gone'
  /** when what comes next for it comes: ready, notice or loss; Infinity for nothing */
  due: number
  /** when it is lost; Infinity for never */
  lostAt: number
  replicas: number
  hasImage: boolean
  hasWeights: boolean
  /** since when it has no replica; Infinity while it has one */
  emptySince: number
  from: number
  until: number
}

export function newNode(number: number, now: number, readyAt: number): Node {
  return { number, state: 'coming', due: readyAt, lostAt: Infinity, replicas: 0, hasImage: false, hasWeights: false, emptySince: now, from: now, until: NaN }
}
