import fc from 'fast-check'
import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { parse } from 'yaml'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan } from '../plan/schema.ts'
import { readPlanYaml, rewritePlanYaml, writePlanYaml } from './planYaml.ts'

const chat = readFileSync('examples/openings/chat.yaml', 'utf8')
const comments = (text: string) => text.split('\n').filter((line) => line.trim().startsWith('#'))

describe('a plan that goes back into the YAML that it came from', () => {
  it('is the same text where nothing was changed', () => {
    expect(rewritePlanYaml(chat, readPlanYaml(chat))).toBe(chat)
  })

  it('keeps comments, order and spelling beside what was changed', () => {
    const source = [
      '# What we talked about on Monday.',
      'format: sand-clock-plan',
      'version: 1',
      ...chat.split('\n').filter((l) => !/^(#|format|version|seed)/.test(l) || /^# assumed/.test(l)),
      '# last, on purpose',
      'seed: 1 # any will do',
    ].join('\n')
    const plan = readPlanYaml(source)
    const text = rewritePlanYaml(source, {
      ...plan,
      seed: 7,
      budgetPerMonth: 900,
      classes: plan.classes.map((c) => ({ ...c, name: 'those who ask' })),
    })
    expect(text).toContain('# What we talked about on Monday.')
    expect(text).toContain('# last, on purpose\nseed: 7 # any will do')
    expect(text).toContain('name: those who ask')
    expect(text).toContain('budgetPerMonth: 900')
    expect(comments(text)).toEqual(comments(source))
    expect(readPlanYaml(text)).toEqual({ ...plan, seed: 7, budgetPerMonth: 900, classes: [{ ...plan.classes[0], name: 'those who ask' }] })
  })

  it('keeps the words beside a thing with it when others come before it or go', () => {
    const source = writePlanYaml(skerrySound, [{ field: 'classes[1].targets', words: 'asked of us by the desk' }])
    const [pilots, manifests, hulls] = skerrySound.classes
    const plan = checkPlan({ ...skerrySound, classes: [{ ...pilots, name: 'new ones' }, hulls, manifests, pilots] })
    const text = rewritePlanYaml(source, plan)
    expect(readPlanYaml(text)).toEqual(plan)
    const at = text.indexOf('# asked of us by the desk')
    expect(text.lastIndexOf('name: manifest reader', at)).toBeGreaterThan(text.lastIndexOf('name: hull watch', at))
  })

  it('is the plan, whatever was changed of it', () => {
    const source = writePlanYaml(skerrySound, [{ field: 'horizon', words: 'a week' }], 'ours')
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 1000 }),
        fc.shuffledSubarray([0, 1, 2], { minLength: 1 }),
        fc.shuffledSubarray(skerrySound.machines, { minLength: 3 }),
        fc.option(fc.double({ min: 1, max: 1e5, noNaN: true }), { nil: undefined }),
        (seed, classes, machines, budgetPerMonth) => {
          const { budgetPerMonth: _, ...rest } = skerrySound
          const plan = {
            ...rest,
            seed,
            machines,
            classes: classes.map((i) => skerrySound.classes[i]),
            ...(budgetPerMonth !== undefined && { budgetPerMonth }),
          } as Plan
          const text = rewritePlanYaml(source, plan)
          expect(text.startsWith('# ours\n')).toBe(true)
          const written = writePlanYaml(plan)
          expect(parsed(text)).toEqual(parsed(written))
        },
      ),
      { numRuns: 12, seed: 12 },
    )
  })

  it('is written anew where the text is no plan any more', () => {
    expect(readPlanYaml(rewritePlanYaml('a: [', skerrySound))).toEqual(checkPlan(skerrySound))
  })
})

/** Whatever a text says, whether it is a plan that holds together or not. */
const parsed = (text: string): unknown => parse(text)
