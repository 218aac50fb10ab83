import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../../examples/make/skerrySound.ts'
import { relianceWords } from '../../explain/calibrationWords.ts'
import type { Machine, Measurement, Model, Variant } from '../../plan/schema.ts'
import { fit } from '../fit.ts'
import { decodeStepSeconds, prefillStepSeconds, type Profile, type TokenProfile } from '../profile.ts'
import { oneSettingOf } from './oneSetting.ts'

const [service] = skerrySound.services
const model = skerrySound.models.find((m) => m.name === 'Curlew 14B')!
const machine = skerrySound.machines.find((m) => m.name === 'Northquay pebble')!
const measured = (rows: Measurement['rows']): Measurement => ({ machine: machine.name, rows })
function made(rows: Measurement['rows'] | undefined, of: Model = model, on: Machine = machine): { profile: Profile; words: string } {
  const variant: Variant = { ...of.variants[1], ...(rows && { measurements: [measured(rows)] }) }
  const whole = { ...of, variants: of.variants.map((v, i) => (i === 1 ? variant : v)) } as Model // one variant changes
  const fitting = fit(skerrySound, { ...service, search: undefined, model: of.name } as typeof service, whole, variant, on, 1)
  if (!fitting.fits) throw new Error('it fits')
  const profile = fitting.profile({ sequences: 32 })
  return { profile, words: relianceWords(profile.source, fitting.calibration, { sequences: 1 }).join('; ') }
}
const tokens = (p: Profile) => p as TokenProfile // all of them are
const derived = tokens(made(undefined).profile)

describe('a measurement of one setting', () => {
  it('is told from one of several', () => {
    expect(
      oneSettingOf(
        measured([
          { concurrency: 1, input: 500, output: 100, ttftSeconds: 0.2, count: 1 },
          { concurrency: 1, input: 500, output: 100, ttftSeconds: 0.5, count: 2 },
        ]),
      )?.ttftSeconds,
    ).toBeCloseTo(0.4, 12)
    expect(
      oneSettingOf(
        measured([
          { concurrency: 1, input: 500, output: 100 },
          { concurrency: 2, input: 500, output: 100 },
        ]),
      ),
    ).toBeUndefined()
  })

  it('of one call lengthens prompts and steps each in their proportions, and says so', () => {
    const { profile, words } = made([
      {
        concurrency: 1,
        input: 500,
        output: 100,
        ttftSeconds: 2 * prefillStepSeconds(derived, 500, 250_000),
        tpotSeconds: 1.5 * decodeStepSeconds(derived, 1, 550),
      },
    ])
    const p = tokens(profile)
    expect(p.source).toBe('measured')
    // Other sizes keep the proportions of what is derived.
    expect(prefillStepSeconds(p, 4000, 16e6)).toBeCloseTo(2 * prefillStepSeconds(derived, 4000, 16e6), 9)
    expect(decodeStepSeconds(p, 32, 20_000)).toBeCloseTo(1.5 * decodeStepSeconds(derived, 32, 20_000), 9)
    expect(words).toContain('its step costs are derived, and scaled by a measurement; only one setting was measured')
    expect(words).toContain('prompts are taken 2.00 times as long as derived, steps 1.50 times')
    expect(words).toContain('measured one call at a time: that is no capacity')
  })

  it('with others side by side takes their prompts off each token', () => {
    const prompt = 1.2 * prefillStepSeconds(derived, 500, 250_000)
    const step = 1.1 * decodeStepSeconds(derived, 8, 8 * 550)
    const p = tokens(
      made([{ concurrency: 8, input: 500, output: 100, ttftSeconds: prompt, tpotSeconds: step + (7 / 99) * prompt }]).profile,
    )
    expect(decodeStepSeconds(p, 1, 550)).toBeCloseTo(1.1 * decodeStepSeconds(derived, 1, 550), 9)
    expect(prefillStepSeconds(p, 500, 250_000)).toBeCloseTo(prompt, 9)
  })

  it('that has a latency alone lengthens everything by one factor', () => {
    const whole = prefillStepSeconds(derived, 500, 250_000) + 99 * decodeStepSeconds(derived, 1, 550)
    const { profile, words } = made([{ concurrency: 1, input: 500, output: 100, latencySeconds: 3 * whole }])
    expect(decodeStepSeconds(tokens(profile), 4, 0)).toBeCloseTo(3 * decodeStepSeconds(derived, 4, 0), 9)
    expect(words).toContain('everything is taken 3.00 times as long as derived')
  })

  it('of a model without a shape is laid on nothing, and says that other sizes are guessed', () => {
    const bare: Model = { kind: 'given', name: 'bare', weightBytes: 1e9, variants: [{ name: 'a' }, { name: 'b' }] }
    const { profile, words } = made([{ concurrency: 1, input: 500, output: 100, ttftSeconds: 0.4, tpotSeconds: 0.03 }], bare)
    expect(prefillStepSeconds(tokens(profile), 1000, 1e6)).toBeCloseTo(0.8, 9)
    expect(decodeStepSeconds(tokens(profile), 32, 5000)).toBeCloseTo(0.03, 9)
    expect(words).toContain('other sizes are guessed')
  })
})
