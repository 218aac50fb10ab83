/** A month of rent, by convention. */
export const HOURS_PER_MONTH = 730

/** What a fixed fleet costs and what one unit of its work costs. Amounts in the plan's currency. */
export interface Money {
  perHour: number
  perMonth: number
  /** over the simulated horizon */
  forHorizon: number
  /** per 1,000 finished requests of the horizon; undefined when none finished */
  perThousandRequests: number | undefined
  /** per million prompt and answer tokens of finished requests; undefined when there are none */
  perMillionTokens: number | undefined
}

/**
 * Money of machines that are rented on demand for the whole horizon.
 *
 * @param finished requests, and their tokens, over the whole horizon, warm-up included, since that is paid for too
 */
export function money(perHour: number, horizonSeconds: number, finished: { requests: number; tokens: number }): Money {
  const forHorizon = (perHour * horizonSeconds) / 3600
  return {
    perHour,
    perMonth: perHour * HOURS_PER_MONTH,
    forHorizon,
    perThousandRequests: finished.requests > 0 ? (forHorizon / finished.requests) * 1000 : undefined,
    perMillionTokens: finished.tokens > 0 ? (forHorizon / finished.tokens) * 1e6 : undefined,
  }
}
