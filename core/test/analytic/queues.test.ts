import { describe, expect, it } from 'vitest'
import { LAWS, readLaw } from './laws.ts'

describe('closed forms through the real engine, 99 % interval over 60 seeds', () => {
  it.each(LAWS.map((law) => [`${law.law}, ${law.parameters}: ${law.quantity}`, law] as const))('%s', (_, law) => {
    const { value, half } = readLaw(law)
    expect(Math.abs(value - law.exact), `simulated ${value} ± ${half}, exact ${law.exact}`).toBeLessThanOrEqual(half)
    expect(half / law.exact, 'an interval this wide would prove nothing').toBeLessThan(0.03)
  })

  it('a wrong closed form is outside the interval, so that these tests can fail', () => {
    const [mm1] = LAWS
    const { value, half } = readLaw(mm1)
    expect(Math.abs(value - mm1.exact * 1.05)).toBeGreaterThan(half)
  })
})
