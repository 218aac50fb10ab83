import type { Requests } from '../demand/requests.ts'
import { calibrationWords, foundWords } from '../explain/calibrationWords.ts'
import { costLines } from '../explain/costLines.ts'
import type { DerivationLine } from '../explain/derivationLine.ts'
import { memoryLines } from '../explain/memoryLines.ts'
import type { Combination } from '../plan/searchChoices.ts'
import type { MeasurementRow, Plan, ProfileSpec, Service } from '../plan/schema.ts'
import { fit } from '../service/fit.ts'
import { specOf } from '../service/given.ts'
import type { Calibration } from '../service/measured/calibration.ts'
import type { ProfileSource } from '../service/profile.ts'
import { meanSizes, speedOf, type Speed } from './fitTable.ts'

/** What one source of step costs says of a combination. */
export interface SourceReading {
  source: ProfileSource
  /** whether the search relies on it */
  used: boolean
  speed: Speed
}

/** Everything behind one row of the fit table. */
export interface FitDetail {
  at: Combination
  memory: DerivationLine[]
  costs: DerivationLine[]
  /** derived, measured and given side by side, as far as they are there */
  sources: SourceReading[]
  measured: { rows: MeasurementRow[]; calibration: Calibration; notes: string[]; source: string } | null
  /** how coefficients were found behind single requests, where they were */
  found: string | null
  /** the coefficients that are relied on, as they would be typed in; null when it does not fit */
  spec: ProfileSpec | null
  /** requests side by side for which the figures are */
  sequences: number
}

const SOURCES: readonly ProfileSource[] = ['derived', 'measured', 'given']

/** The derivation of one combination; undefined for names that are not in the plan. */
export function fitDetail(plan: Plan, service: Service, at: Combination, requests: Requests): FitDetail | undefined {
  const model = plan.models.find((m) => m.name === service.model)
  const variant = model?.variants.find((v) => v.name === at.variant)
  const machine = plan.machines.find((m) => m.name === at.machine)
  if (!model || !variant || !machine) return undefined
  const of = (basis?: ProfileSource) => fit(plan, service, model, variant, machine, at.devices, basis)
  const chosen = of()
  const mean = meanSizes(requests)
  const asked = service.search?.sequences ?? [service.configuration?.sequences ?? 1]
  const limit = chosen.fits ? Math.max(1, ...asked.filter((s) => s <= chosen.mostSequences)) : Math.max(...asked)
  const sources = SOURCES.flatMap((source): SourceReading[] => {
    const fitting = of(source)
    return fitting.fits && fitting.source === source
      ? [{ source, used: chosen.fits && chosen.source === source, speed: speedOf((s) => fitting.profile({ sequences: s }), limit, mean) }]
      : []
  })
  const from = { model, variant, machine, devices: at.devices, assumptions: plan.assumptions, split: service.split }
  const measured = of('measured')
  const chosenProfile = chosen.fits ? chosen.profile({ sequences: limit }) : undefined
  const { calibration, found } = measured.fits ? measured : {}
  const measurement = variant.measurements?.find((m) => m.machine === machine.name && (m.devices ?? 1) === at.devices)
  return {
    at,
    sources,
    sequences: limit,
    spec: chosenProfile && chosenProfile.kind !== 'sold' ? specOf(chosenProfile) : null,
    memory: chosen.memory ? memoryLines(from, chosen.memory) : [],
    costs: costLines(from, limit),
    found: found ? foundWords(found) : null,
    measured:
      calibration && measurement
        ? { rows: measurement.rows, calibration, notes: calibrationWords(calibration), source: measurement.source ?? 'source not stated' }
        : null,
  }
}
