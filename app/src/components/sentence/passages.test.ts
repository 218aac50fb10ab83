import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../data/demo.ts'
import { VIEWS } from '../../views.ts'
import { foldAtFirst, passagesOf } from './passages.ts'

const many = {
  ...demoPlan,
  classes: Array.from({ length: 20 }, (_, i) => ({ ...demoPlan.classes[0], name: `class ${i}` })),
  services: Array.from({ length: 10 }, (_, i) => ({ ...demoPlan.services[0], name: `service ${i}` })),
}

describe('the passages of the sentence', () => {
  it('are every class, every service, money and certainty, each with a name and key figures', () => {
    const passages = passagesOf(many)
    expect(passages.map((p) => p.name)).toEqual([...many.classes, ...many.services].map((x) => x.name).concat('Money', 'Certainty'))
    expect(new Set(passages.map((p) => p.id)).size).toBe(passages.length)
    for (const p of passages) expect(p.line, p.id).toMatch(/\w/)
  })

  it('each view opens something; of twenty classes and ten services one each at the most', () => {
    const few = passagesOf(demoPlan)
    const crowd = passagesOf(many)
    for (const { opens, name } of VIEWS) {
      expect(few.filter((p) => foldAtFirst(p, few, opens) !== 'line').length, name).toBeGreaterThan(0)
      expect(
        crowd.filter((p) => foldAtFirst(p, crowd, opens) === 'part' && p.index > 0),
        name,
      ).toEqual([])
      expect(
        few.some((p) => foldAtFirst(p, few, opens) === 'line'),
        name,
      ).toBe(true)
    }
  })
})
