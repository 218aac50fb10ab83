import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { OPENINGS } from '../begin/openings.ts'
import { readPlanYaml } from '../files/planYaml.ts'
import { checkPlan } from '../plan/read.ts'
import { waysOf } from '../plan/ways.ts'
import { driveHere } from '../search/drive.ts'
import { Load } from '../search/load.ts'
import { recommend } from './recommend.ts'

const HALF_A_DAY = 43_200

describe('every opening is answered, as its file has it but for half a day, one draw and one provider', () => {
  it.each(waysOf(OPENINGS))('%s', (name) => {
    const begun = readPlanYaml(readFileSync(`examples/openings/${name}.yaml`, 'utf8'))
    const [service] = begun.services
    const machines = begun.machines.filter((m) => m.provider === 'Fenland').map((m) => m.name)
    const plan = checkPlan({
      ...begun,
      repetitions: 1,
      horizon: { ...begun.horizon, seconds: HALF_A_DAY },
      services: [{ ...service, search: { ...service.search, machines } }],
    })
    const load = new Load(plan)
    const answer = driveHere(recommend(plan, load), load)
    expect(answer.meets).toBe(true)
    const chosen = answer.services[0].chosen
    expect(machines).toContain(chosen?.machine)
    // Its promise is the one that the beginning asked for, and it is kept with the head-room that was assumed.
    expect(chosen?.targets[0].target).toEqual(begun.classes[0].targets[0])
    expect(chosen?.targets.every((t) => t.headRoom === null || t.headRoom >= plan.margin)).toBe(true)
  })
})
