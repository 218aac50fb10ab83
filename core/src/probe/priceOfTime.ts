import type { Price } from './price.ts'

const SECONDS_PER_HOUR = 3600

/** What so much time costs who rents the machines that answer. @param seconds 0… */
export const priceOfTime = ({ perHour }: Pick<Price, 'perHour'>, seconds: number): number => (perHour * seconds) / SECONDS_PER_HOUR
