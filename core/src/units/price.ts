import { grouped, threeDigits } from './number.ts'

/** An amount with its currency code, to the cent below 1,000 and whole above. @example price(1234.5, 'EUR') // '1 235 EUR' */
export function price(amount: number | undefined | null, currency: string): string {
  if (amount === undefined || amount === null || Number.isNaN(amount)) return 'no data'
  if (amount !== 0 && Math.abs(amount) < 0.1) return `${threeDigits(amount)}\u00a0${currency}`
  return `${grouped(amount, Math.abs(amount) < 1000 ? 2 : 0)}\u00a0${currency}`
}
