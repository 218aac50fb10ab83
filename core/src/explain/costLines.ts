import type { CpuModel, Machine, OperationsModel } from '../plan/schema.ts'
import { ratesOf, type Rates } from '../service/rates.ts'
import { bitsOf, efficiencies } from '../service/variant.ts'
import { bytes } from '../units/bytes.ts'
import { percent, threeDigits } from '../units/number.ts'
import { showQuantity } from '../units/quantity.ts'
import { coefficientWords } from './calibrationWords.ts'
import { big, line, type DerivationLine, type Derived } from './derivationLine.ts'
import { tokenLines } from './tokenLines.ts'

/** How the step costs follow from the model's shape and the machine's rates, at n sequences (items). */
export function costLines(from: Derived, n: number): DerivationLine[] {
  const { model, variant, machine, devices, assumptions, split = 'heads' } = from
  if (model.kind === 'given') return []
  if (model.kind === 'cpu') return coreLines(model, machine)
  const bits = bitsOf(variant, false)
  const arithmetic = machine.arithmeticPerSecond[String(bits.arithmeticBits)]
  if (arithmetic === undefined) return []
  const rates = ratesOf(machine, devices, variant, arithmetic, assumptions, split)
  const share = efficiencies(variant, assumptions)
  const source = variant.efficiency ? `efficiency of ${variant.format ?? variant.name}` : `assumptions: ${assumptions.source}`
  const reach = [
    line(
      'D·BW·η',
      'bytes a second that all devices reach',
      'devices × bandwidth × efficiency',
      `${devices} × ${showQuantity(machine.bandwidthBytesPerSecond, 'byteRate')} × ${percent(share.memory)}`,
      `${bytes(rates.bytesPerSecond)}/s`,
      `machine; ${source}`,
    ),
    line(
      'D·F·η',
      `operations a second with ${bits.arithmeticBits} bits`,
      'devices × arithmetic × efficiency',
      `${devices} × ${showQuantity(arithmetic, 'operations')} × ${percent(share.arithmetic)}`,
      showQuantity(Number(rates.operationsPerSecond.toPrecision(3)), 'operations'),
      `machine; ${source}`,
    ),
  ]
  const weightBytes = bits.bytesPerWeight
  return [
    ...reach,
    ...(model.kind === 'work' || model.kind === 'iterative'
      ? operationLines(model, weightBytes, rates, n)
      : tokenLines(model, weightBytes, rates, n)),
  ]
}

function operationLines(model: OperationsModel, weightBytes: number, rates: Rates, n: number): DerivationLine[] {
  const read = (model.parameters * weightBytes) / rates.bytesPerSecond
  const reckon = (operations: number) => (n * operations) / rates.operationsPerSecond
  const base = line(
    `B0[${n}]`,
    `a batch of ${n}, beside its work`,
    'launch + max(P·w/(D·BW·η), n·fixed/(D·F·η))',
    `${coefficientWords(rates.launchSeconds)} + max(${coefficientWords(read)}, ${coefficientWords(reckon(model.fixedOperations))})`,
    coefficientWords(rates.launchSeconds + Math.max(read, reckon(model.fixedOperations))),
    'model',
  )
  if (model.kind === 'work')
    return [
      base,
      line(
        `B1[${n}]`,
        'each work unit of the batch',
        'n·operations / (D·F·η)',
        `${n} × ${big(model.operationsPerUnit)}`,
        coefficientWords(reckon(model.operationsPerUnit)),
        'model',
      ),
    ]
  return [
    base,
    line(
      `step[${n}]`,
      'each step of the batch',
      'launch + max(P·w/(D·BW·η), n·operations/(D·F·η))',
      `${coefficientWords(rates.launchSeconds)} + max(${coefficientWords(read)}, ${coefficientWords(reckon(model.operationsPerStep))})`,
      coefficientWords(rates.launchSeconds + Math.max(read, reckon(model.operationsPerStep))),
      'model',
    ),
  ]
}

function coreLines(model: CpuModel, machine: Machine): DerivationLine[] {
  const speed = machine.coreSpeed ?? 1
  return [
    line(
      'D0',
      'a request alone, whatever its work',
      'base / core speed',
      `${coefficientWords(model.baseSeconds)} / ${threeDigits(speed)}`,
      coefficientWords(model.baseSeconds / speed),
      'model and machine',
    ),
    line(
      'D1',
      'each work unit alone',
      'unit / core speed',
      `${coefficientWords(model.secondsPerUnit)} / ${threeDigits(speed)}`,
      coefficientWords(model.secondsPerUnit / speed),
      'model and machine',
    ),
    line(
      'cores',
      'requests that the cores bear side by side',
      'cores / cores of a request',
      `${threeDigits(machine.hostCores)} / ${threeDigits(model.coresPerRequest)}`,
      threeDigits(Math.floor((machine.hostCores ?? 0) / model.coresPerRequest)),
      'model and machine',
    ),
  ]
}
