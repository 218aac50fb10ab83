import type { Assumptions, CpuModel, Machine, Model, OperationsModel, TokenModel, Variant } from '../plan/schema.ts'
import { activeParameters, expertSplit, parametersTouched } from '../service/experts.ts'
import type { MemorySplit } from '../service/memory.ts'
import { communicationSeconds, ratesOf, type Rates } from '../service/rates.ts'
import { bitsOf, bytesPerWeight, efficiencies } from '../service/variant.ts'
import { bytes } from '../units/bytes.ts'
import { percent, threeDigits } from '../units/number.ts'
import { showQuantity } from '../units/quantity.ts'
import { coefficientWords } from './calibrationWords.ts'

/** One figure with its derivation: what it is, by which formula, from which figures, and who stated them. */
export interface DerivationLine {
  symbol: string
  meaning: string
  formula: string
  /** the formula with its figures */
  figures: string
  value: string
  /** who stated the inputs */
  from: string
}

interface Derived {
  model: Model
  variant: Variant
  machine: Machine
  devices: number
  assumptions: Assumptions
}

const line = (symbol: string, meaning: string, formula: string, figures: string, value: string, from: string): DerivationLine => ({ symbol, meaning, formula, figures, value, from })
const big = (n: number) => showQuantity(Number(n.toPrecision(3)), 'big')

/** How the memory of a replica divides. */
export function memoryLines({ model, variant, machine, devices, assumptions }: Derived, memory: MemorySplit): DerivationLine[] {
  if (model.kind === 'cpu') return []
  const stated = model.kind === 'given'
  const weight = bytesPerWeight(variant)
  const lines = [
    line('weights', 'bytes of the weights', stated ? 'as stated' : 'P·w', stated ? '' : `${big(model.parameters)} × ${threeDigits(weight)} bytes`, bytes(memory.weightBytes), `model and ${variant.name}`),
    line('withheld', 'what the server may not touch', 'D·memory·(1 − share)', `${devices} × ${bytes(machine.memoryBytesPerDevice)} × ${percent(1 - assumptions.memoryShare)}`, bytes(memory.withheldBytes), 'machine and assumptions'),
    line('reserve', 'kept back on every device', 'D·reserve', `${devices} × ${bytes(assumptions.reserveBytesPerDevice)}`, bytes(memory.reserveBytes), 'assumptions'),
    line('activations', 'working memory of a replica', 'as stated', '', bytes(memory.activationBytes), 'model'),
  ]
  if (variant.weightBits !== undefined && variant.groupSize !== undefined) {
    const extra = (variant.scaleBits ?? 0) + (variant.zeroPointBits ?? 0)
    lines.unshift(line('w', 'bytes of one weight with its part of a scale', '(bits + (scale + zero point)/group)/8', `(${variant.weightBits} + ${extra}/${variant.groupSize})/8`, `${threeDigits(weight)} bytes`, variant.name))
  }
  if (model.kind === 'dense' || model.kind === 'experts') {
    lines.push(
      line('cache of a token', 'keys and values of every layer', '2·L·g·d·b', `2 × ${model.layers} × ${model.keyValueHeads} × ${model.headSize} × ${threeDigits(bitsOf(variant, true).bytesPerCacheElement)} bytes`, bytes(memory.cacheBytesPerToken), `model and ${variant.name}`),
      line('cache tokens', 'tokens that all sequences together may hold', '(total − withheld − weights − reserve − activations) / cache of a token', `${bytes(memory.cacheBytes)} / ${bytes(memory.cacheBytesPerToken)}`, `${threeDigits(memory.cacheTokens)} tokens`, 'the lines above'),
    )
  }
  return lines
}

/** How the step costs follow from the model's shape and the machine's rates, at n sequences (items). */
export function costLines(from: Derived, n: number): DerivationLine[] {
  const { model, variant, machine, devices, assumptions } = from
  if (model.kind === 'given') return []
  if (model.kind === 'cpu') return coreLines(model, machine)
  const bits = bitsOf(variant, false)
  const arithmetic = machine.arithmeticPerSecond[String(bits.arithmeticBits)]
  if (arithmetic === undefined) return []
  const rates = ratesOf(machine, devices, variant, arithmetic, assumptions)
  const share = efficiencies(variant, assumptions)
  const source = variant.efficiency ? `efficiency of ${variant.format ?? variant.name}` : `assumptions: ${assumptions.source}`
  const reach = [
    line('D·BW·η', 'bytes a second that all devices reach', 'devices × bandwidth × efficiency', `${devices} × ${showQuantity(machine.bandwidthBytesPerSecond, 'byteRate')} × ${percent(share.memory)}`, `${bytes(rates.bytesPerSecond)}/s`, `machine; ${source}`),
    line('D·F·η', `operations a second with ${bits.arithmeticBits} bits`, 'devices × arithmetic × efficiency', `${devices} × ${showQuantity(arithmetic, 'operations')} × ${percent(share.arithmetic)}`, showQuantity(Number(rates.operationsPerSecond.toPrecision(3)), 'operations'), `machine; ${source}`),
  ]
  const weightBytes = bits.bytesPerWeight
  return [...reach, ...(model.kind === 'work' || model.kind === 'iterative' ? operationLines(model, weightBytes, rates, n) : tokenLines(model, weightBytes, rates, n))]
}

function tokenLines(model: TokenModel, weightBytes: number, rates: Rates, n: number): DerivationLine[] {
  const read = (parameters: number) => (parameters * weightBytes) / rates.bytesPerSecond
  const active = activeParameters(model)
  const touched = parametersTouched(model, n)[n]
  const lines = [
    line(`M[${n}]`, `reading the weights for ${n} side by side`, 'touched·w / (D·BW·η)', `${big(touched)} × ${threeDigits(weightBytes)} bytes`, coefficientWords(read(touched)), 'model'),
    line(`C[${n}]`, `arithmetic for ${n} side by side`, '2·A·n / (D·F·η)', `2 × ${big(active)} × ${n}`, coefficientWords((2 * active * n) / rates.operationsPerSecond), 'model'),
    line(`O[${n}]`, 'launch, and what the devices tell each other', 'launch + L·2·(hop + n·H·2·2·(D−1)/D / link)', `${coefficientWords(rates.launchSeconds)} + ${coefficientWords(communicationSeconds(model.layers, model.width, rates, n))}`, coefficientWords(rates.launchSeconds + communicationSeconds(model.layers, model.width, rates, n)), 'assumptions, machine'),
    line('P1', 'prefill, for each prompt token', '2·A / (D·F·η)', `2 × ${big(active)}`, coefficientWords((2 * active) / rates.operationsPerSecond), 'model'),
    line('P2', 'prefill, for each squared prompt token', '2·L·H / (D·F·η)', `2 × ${model.layers} × ${model.width}`, coefficientWords((2 * model.layers * model.width) / rates.operationsPerSecond), 'model'),
    line('Pm', 'prefill, one read of the weights', 'P·w / (D·BW·η)', `${big(model.parameters)} × ${threeDigits(weightBytes)} bytes`, coefficientWords(read(model.parameters)), 'model'),
  ]
  if (model.kind === 'experts') {
    const { sharedParameters, expertParameters } = expertSplit(model)
    lines.unshift(line(`touched[${n}]`, `parameters that ${n} tokens hit`, 'shared + experts·(1 − (1 − k/E)ⁿ)', `${big(sharedParameters)} + ${big(expertParameters)} × (1 − (1 − ${model.expertsPerToken}/${model.experts})^${n})`, big(touched), 'model'))
  }
  return lines
}

function operationLines(model: OperationsModel, weightBytes: number, rates: Rates, n: number): DerivationLine[] {
  const read = (model.parameters * weightBytes) / rates.bytesPerSecond
  const reckon = (operations: number) => (n * operations) / rates.operationsPerSecond
  const base = line(`B0[${n}]`, `a batch of ${n}, beside its work`, 'launch + max(P·w/(D·BW·η), n·fixed/(D·F·η))', `${coefficientWords(rates.launchSeconds)} + max(${coefficientWords(read)}, ${coefficientWords(reckon(model.fixedOperations))})`, coefficientWords(rates.launchSeconds + Math.max(read, reckon(model.fixedOperations))), 'model')
  if (model.kind === 'work') return [base, line(`B1[${n}]`, 'each work unit of the batch', 'n·operations / (D·F·η)', `${n} × ${big(model.operationsPerUnit)}`, coefficientWords(reckon(model.operationsPerUnit)), 'model')]
  return [base, line(`step[${n}]`, 'each step of the batch', 'launch + max(P·w/(D·BW·η), n·operations/(D·F·η))', `${coefficientWords(rates.launchSeconds)} + max(${coefficientWords(read)}, ${coefficientWords(reckon(model.operationsPerStep))})`, coefficientWords(rates.launchSeconds + Math.max(read, reckon(model.operationsPerStep))), 'model')]
}

function coreLines(model: CpuModel, machine: Machine): DerivationLine[] {
  const speed = machine.coreSpeed ?? 1
  return [
    line('D0', 'a request alone, whatever its work', 'base / core speed', `${coefficientWords(model.baseSeconds)} / ${threeDigits(speed)}`, coefficientWords(model.baseSeconds / speed), 'model and machine'),
    line('D1', 'each work unit alone', 'unit / core speed', `${coefficientWords(model.secondsPerUnit)} / ${threeDigits(speed)}`, coefficientWords(model.secondsPerUnit / speed), 'model and machine'),
    line('cores', 'requests that the cores bear side by side', 'cores / cores of a request', `${threeDigits(machine.hostCores)} / ${threeDigits(model.coresPerRequest)}`, threeDigits(Math.floor((machine.hostCores ?? 0) / model.coresPerRequest)), 'model and machine'),
  ]
}
