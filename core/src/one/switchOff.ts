/** What it costs that nobody calls: to stay, to be away, and to come back. In money and seconds. */
export interface IdlePrices {
  /** of a replica that is kept ready, a second; above `awayPerSecond` */
  keptPerSecond: number
  /** of what stays while it is away: a disk; 0 where nothing does */
  awayPerSecond: number
  /** each time that it comes back: its start-up, and what a caller who waits for it is worth */
  comeBack: number
}

/** When to switch off after the last call, and what that costs over gaps between calls. */
export interface SwitchOff {
  /** seconds; Infinity for never */
  timeoutSeconds: number
  /** over all gaps */
  cost: number
  /** callers who find nothing */
  cold: number
}

/**
 * The time-out that costs never more than twice what somebody would pay who knew every gap before: as long as staying costs what coming
 * back does (the rule of those who rent skis).
 *
 * With k = kept − away, gaps g cost min(g·k, comeBack) beside g·away to who knows them. A time-out T = comeBack/k costs g·k up
 * to T, and then T·k + comeBack = 2·comeBack.
 */
export const fairTimeout = ({ keptPerSecond, awayPerSecond, comeBack }: IdlePrices): number => comeBack / (keptPerSecond - awayPerSecond)

/** What gaps cost with a time-out; a gap as long as the time-out is stayed through. */
export function costOfTimeout(gaps: readonly number[], prices: IdlePrices, timeoutSeconds: number): SwitchOff {
  let [cost, cold] = [0, 0]
  for (const gap of gaps) {
    const kept = Math.min(gap, timeoutSeconds)
    cost += kept * prices.keptPerSecond
    if (gap <= timeoutSeconds) continue
    cold++
    cost += (gap - kept) * prices.awayPerSecond + prices.comeBack
  }
  return { timeoutSeconds, cost, cold }
}

/** What somebody pays who knows every gap before. */
export function clairvoyantCost(gaps: readonly number[], { keptPerSecond, awayPerSecond, comeBack }: IdlePrices): number {
  return gaps.reduce((sum, gap) => sum + Math.min(gap * keptPerSecond, gap * awayPerSecond + comeBack), 0)
}

/**
 * The time-out that costs least over these gaps, exactly: between two lengths of gaps a longer one only costs more, so that it is none, the
 * length of one of them, or never. Of several the shortest.
 */
export function bestTimeout(gaps: readonly number[], prices: IdlePrices): SwitchOff {
  const sorted = [...gaps].sort((a, b) => a - b)
  const total = sorted.reduce((sum, gap) => sum + gap, 0)
  const k = prices.keptPerSecond - prices.awayPerSecond
  let [bestExtra, best, before] = [gaps.length * prices.comeBack, 0, 0]
  sorted.forEach((gap, i) => {
    before += gap
    const longer = sorted.length - 1 - i
    const extra = k * (before + longer * gap) + longer * prices.comeBack
    // Of equal gaps the last counts all of them.
    if (sorted[i + 1] !== gap && extra < bestExtra * (1 - 1e-12)) [bestExtra, best] = [extra, longer === 0 ? Infinity : gap]
  })
  return { ...costOfTimeout(gaps, prices, best), cost: bestExtra + total * prices.awayPerSecond }
}

/** Stretches in which nobody is served: between calls at these times that take so long each. @param at ascending, seconds */
export function gapsBetween(at: ArrayLike<number>, eachSeconds: number): number[] {
  const gaps: number[] = []
  let until = NaN
  for (let i = 0; i < at.length; i++) {
    if (at[i] > until) gaps.push(at[i] - until)
    until = Math.max(until === until ? until : 0, at[i] + eachSeconds)
  }
  return gaps
}
