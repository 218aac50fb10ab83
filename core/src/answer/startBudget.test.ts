import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { startRules } from '../../test/fleets.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { startBudget, startLine } from './startBudget.ts'

describe('the start-up budget, worked by hand', () => {
  // machine 100, image 10 GB at 1 GB/s, weights 20 GB at 1 GB/s of one reader, load 5, warm-up 15
  it.each([
    ['store', 'nothing', 150],
    ['store', 'empty', 50],
    ['store', 'before', 40],
    ['store', 'stopped', 100],
    ['node', 'stopped', 80],
    ['image', 'nothing', 150],
    ['image', 'before', 20],
    ['node', 'nothing', 150],
    ['node', 'before', 20],
    ['store', 'unloaded', 20],
    ['image', 'unloaded', 20],
  ] as const)('weights from the %s, from %s: %d s', (weightsFrom, from, seconds) => {
    const line = startLine(startRules({ weightsFrom }), from, 1, 3600)
    expect(line.readySeconds).toBeCloseTo(seconds, 9)
    expect(line.stages.reduce((sum, s) => sum + s.seconds, 0)).toBeCloseTo(seconds, 9)
    expect(line.paid).toBeCloseTo(seconds, 9)
  })

  it('many at once share the source: 16 of 20 GB at 4 GB/s together are 80 s, which then dominate', () => {
    const line = startLine(startRules({ weightTotalBytesPerSecond: 4e9, nodeSeconds: 30 }), 'nothing', 16, 1)
    expect(line.stages.find((s) => s.stage === 'weights')?.seconds).toBeCloseTo(80, 9)
    expect(line.dominant).toBe('weights')
    expect(line.fetchedBytes).toBe(16 * 30e9)
  })

  it('and images do: 4 of 10 GB at 2 GB/s together are 20 s', () => {
    const line = startLine(startRules({ imageTotalBytesPerSecond: 2e9 }), 'nothing', 4, 1)
    expect(line.stages.find((s) => s.stage === 'image')?.seconds).toBeCloseTo(20, 9)
  })

  it('a time-out counts from when the machine is there', () => {
    expect(startLine(startRules({ timeoutSeconds: 45 }), 'nothing', 1, 1).timedOutAt).toBe(145)
    expect(startLine(startRules({ timeoutSeconds: 51 }), 'nothing', 1, 1).timedOutAt).toBeNull()
  })

  it('has twelve lines for a configuration of the demo', () => {
    const [talk] = skerrySound.services
    const candidate = enumerate(skerrySound, talk).find(
      (c) => c.machine.name === 'Fenland twin' && c.variant.name === '8-bit' && c.devices === 2,
    )!
    const lines = startBudget(talk, candidate, 4)
    expect(lines).toHaveLength(12)
    // 14.4 GB of four readers at 2.4 GB/s together; the network of the machine, 10 Gbit/s, would allow 1.25 GB/s each.
    expect(lines[0].stages[2].seconds).toBeCloseTo((4 * 14.4e9) / 2.4e9, 6)
  })
})
