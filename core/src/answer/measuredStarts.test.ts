import * as fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { fileKind } from '../files/fileKind.ts'
import { LOGGED_STAGES, readStartLog } from '../files/startLog.ts'
import { stageSeconds } from '../life/startRules.ts'
import { checkPlan } from '../plan/read.ts'
import { startRulesOf } from '../scaling/ofPlan.ts'
import { measuredStages, measuredStartRemarks, measuredStartsTable, withMeasuredStarts } from './measuredStarts.ts'

const plan = checkPlan(skerrySound)
const service = plan.services.find((s) => s.start && s.start.weights.from === 'store')!
const candidate = enumerate(plan, service).find((c) => c.fit.fits && c.machine.provisioningSeconds === undefined)!
const { weightBytes } = startRulesOf(service, candidate.model, candidate.variant, candidate.machine)
const seconds = fc.double({ min: 0.5, max: 900, noNaN: true })
const starts = fc.array(fc.tuple(seconds, seconds, seconds, seconds, seconds), { minLength: 1, maxLength: 40 })

describe('start-ups that were timed', () => {
  it('are what the plan starts up like once they are taken in: each stage as long as half of them took', () => {
    // Nothing else keeps a rate down.
    const { networkBytesPerSecond: _, ...machine } = candidate.machine
    fc.assert(
      fc.property(starts, (timed) => {
        const rows = timed.flatMap((of, i) => LOGGED_STAGES.map((stage, k) => ({ start: `${i}`, stage, seconds: of[k] })))
        const stages = measuredStages(rows)
        // Warm-ups that are kept are typed.
        const { keptWarmupSeconds: __, ...start } = service.start!
        const taken = { ...service, start: withMeasuredStarts(start, stages, weightBytes) }
        const found = Object.values(stageSeconds(startRulesOf(taken, candidate.model, candidate.variant, machine), true))
        const halves = LOGGED_STAGES.map((_, k) => timed.map((t) => t[k]).sort((a, b) => a - b)[Math.ceil(timed.length / 2) - 1])
        found.forEach((f, k) => expect(f / halves[k]).toBeCloseTo(1, 3))
        expect(stages.every((s) => s.starts === timed.length)).toBe(true)
        expect(taken.start.machineP95Seconds !== undefined).toBe(timed.length >= 20 && stages[0].p95! > stages[0].median.value)
      }),
      { numRuns: 60 },
    )
  })

  it('are read by how long each stage took or by when it began, with the unit of a cell, and told beside the plan', () => {
    const took = 'start,stage,seconds\na,machine,70\na,image,30 s\na,warm up,0.5 min\nb,machine,90\n'
    expect(readStartLog(took).rows).toEqual([
      { start: 'a', stage: 'machine', seconds: 70 },
      { start: 'a', stage: 'image', seconds: 30 },
      { start: 'a', stage: 'warm-up', seconds: 30 },
      { start: 'b', stage: 'machine', seconds: 90 },
    ])
    const began = [
      'start,stage,at',
      'x,machine,2027-03-01T06:00:00Z',
      'y,machine,0',
      'x,weights,2027-03-01T06:01:10Z',
      'x,ready,2027-03-01T06:02:00Z',
      'y,load,12',
      'y,ready,15.5',
    ].join('\n')
    expect(readStartLog(began)).toEqual({
      rows: [
        { start: 'x', stage: 'machine', seconds: 70 },
        { start: 'x', stage: 'weights', seconds: 50 },
        { start: 'y', stage: 'machine', seconds: 12 },
        { start: 'y', stage: 'load', seconds: 3.5 },
      ],
      problems: [],
    })
    const { header, rows } = measuredStartsTable(measuredStages(readStartLog(took).rows), candidate)
    expect(header).toEqual(['stage', 'starts', 'half of them', 'the true one, with 95 %', '95 of 100', 'in the plan'])
    expect(rows.map((r) => r.slice(0, 3).join(' ').replaceAll(/\s/g, ' '))).toEqual([
      'machine 2 70.0 s',
      'image 1 30.0 s',
      'warm-up 1 30.0 s',
      'together  2 min 10 s',
    ])
    expect(rows[0][3]).toBe('from 6 starts on')
    expect(measuredStartRemarks(measuredStages(readStartLog(took).rows), candidate)).toEqual([])
    expect(fileKind(took, 'a.csv').kind).toBe('starts')
    expect(fileKind(began, 'a.csv').kind).toBe('starts')
  })

  it('keep what can be used of a bad log, and say of the rest where, what and why', () => {
    const { rows, problems } = readStartLog(
      'start,stage,at\na,machine,0\na,unpacking,3\na,image,-5\n,load,6\na,load,soon\na,ready,20\nb,machine,4\n',
    )
    expect(rows).toEqual([{ start: 'a', stage: 'machine', seconds: 20 }])
    expect(problems.map((p) => [p.row, p.field, p.rule.slice(0, 24)])).toEqual([
      [3, 'stage', 'is no stage: it must be '],
      [4, 'at', 'is before the stage "mac'],
      [5, 'start', 'is missing: a name or a '],
      [6, 'at', 'must be a time or second'],
      [8, 'stage', 'of start "b" has no end:'],
    ])
    expect(() => readStartLog('start,stage\n1,machine')).toThrow('must name the columns "start", "stage" and "seconds" or "at"')
    expect(() => readStartLog('start,stage,seconds\n1,ready,3')).toThrow('have no stage whose duration is known')
  })
})
