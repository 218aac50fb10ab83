import { describe, expect, it } from 'vitest'
import { ghostOf, type Shown } from './ghost.ts'

const run = (parts: { key?: string; service?: string; generation?: number; until?: number } = {}): Shown => ({
  timeline: { fromSeconds: 0, untilSeconds: parts.until ?? 60 },
  of: { key: parts.key ?? 'three', name: { service: parts.service ?? 'talk' } },
  generation: parts.generation ?? 1,
})
const first = run()

describe('what stays behind a run', () => {
  it('is what was shown before the plan or the run changed, however often the same is asked for after that', () => {
    expect(ghostOf(null, first, null)).toBeNull()
    expect(ghostOf(first, run(), null)).toBeNull()
    const changed = run({ generation: 2 })
    expect(ghostOf(first, changed, null)).toBe(first)
    expect(ghostOf(changed, run({ generation: 2 }), first)).toBe(first)
    expect(ghostOf(changed, run({ generation: 2, key: 'four' }), first)).toBe(changed)
  })

  it('is nothing of another service, or of another time', () => {
    expect(ghostOf(first, run({ service: 'desk', generation: 2 }), first)).toBeNull()
    expect(ghostOf(first, run({ until: 30, generation: 2 }), first)).toBeNull()
  })
})
