import type { Assumptions, CpuModel, Machine, Model, OperationsModel, TokenModel, Variant } from '../plan/schema.ts'
import { activeParameters, expertSplit, parametersTouched } from '../service/experts.ts'
import type { MemorySplit } from '../service/memory.ts'
import {
  ACTIVATION_BYTES,
  bordersSeconds,
  communicationSeconds,
  devicesOfLayer,
  exchangeSeconds,
  inWork,
  layoutOf,
  ratesOf,
  workingShare,
  type Rates,
  type Split,
} from '../service/rates.ts'
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
  split?: Split | undefined
}

const line = (symbol: string, meaning: string, formula: string, figures: string, value: string, from: string): DerivationLine => ({
  symbol,
  meaning,
  formula,
  figures,
  value,
  from,
})
const big = (n: number) => showQuantity(Number(n.toPrecision(3)), 'big')

/** How the memory of a replica divides. */
export function memoryLines(
  { model, variant, machine, devices, assumptions, split = 'heads' }: Derived,
  memory: MemorySplit,
): DerivationLine[] {
  if (model.kind === 'cpu') return []
  const stated = model.kind === 'given'
  const weight = bytesPerWeight(variant)
  const lines = [
    line(
      'weights',
      'bytes of the weights',
      stated ? 'as stated' : 'P·w',
      stated ? '' : `${big(model.parameters)} × ${threeDigits(weight)} bytes`,
      bytes(memory.weightBytes),
      `model and ${variant.name}`,
    ),
    line(
      'withheld',
      'what the server may not touch',
      'D·memory·(1 − share)',
      `${devices} × ${bytes(machine.memoryBytesPerDevice)} × ${percent(1 - assumptions.memoryShare)}`,
      bytes(memory.withheldBytes),
      'machine and assumptions',
    ),
    line(
      'reserve',
      'kept back on every device',
      'D·reserve',
      `${devices} × ${bytes(assumptions.reserveBytesPerDevice)}`,
      bytes(memory.reserveBytes),
      'assumptions',
    ),
    line('activations', 'working memory of a replica', 'as stated', '', bytes(memory.activationBytes), 'model'),
  ]
  if (variant.weightBits !== undefined && variant.groupSize !== undefined) {
    const extra = (variant.scaleBits ?? 0) + (variant.zeroPointBits ?? 0)
    lines.unshift(
      line(
        'w',
        'bytes of one weight with its part of a scale',
        '(bits + (scale + zero point)/group)/8',
        `(${variant.weightBits} + ${extra}/${variant.groupSize})/8`,
        `${threeDigits(weight)} bytes`,
        variant.name,
      ),
    )
  }
  if (model.kind === 'dense' || model.kind === 'experts') {
    lines.push(
      cacheLine(model, variant, memory, devicesOfLayer(layoutOf(machine, devices), split)),
      line(
        'cache tokens',
        'tokens that all sequences together may hold',
        '(total − withheld − weights − reserve − activations) / cache of a token',
        `${bytes(memory.cacheBytes)} / ${bytes(memory.cacheBytesPerToken)}`,
        `${threeDigits(memory.cacheTokens)} tokens`,
        'the lines above',
      ),
    )
  }
  return lines
}

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

/** What one token keeps, over all devices. */
function cacheLine(model: TokenModel, variant: Variant, memory: MemorySplit, sharing: number): DerivationLine {
  const value = bytes(memory.cacheBytesPerToken)
  if (model.cacheBytesPerToken !== undefined)
    return line(
      'cache of a token',
      'as stated, kept by every device',
      'D·cache per token',
      `${sharing} × ${bytes(model.cacheBytesPerToken)}`,
      value,
      'model',
    )
  const { keyValueHeads: g, layers, headSize } = model
  const element = threeDigits(bitsOf(variant, true).bytesPerCacheElement)
  const meaning =
    sharing > g
      ? `keys and values of every layer; ${sharing} devices keep each of ${g} heads ${threeDigits(sharing / g)} times`
      : 'keys and values of every layer'
  return line(
    'cache of a token',
    meaning,
    '2·L·d·b·max(g, D)',
    `2 × ${layers} × ${headSize} × ${element} bytes × ${Math.max(g, sharing)}`,
    value,
    `model and ${variant.name}`,
  )
}

function tokenLines(model: TokenModel, weightBytes: number, rates: Rates, n: number): DerivationLine[] {
  const share = workingShare(rates)
  const inTurns = share < 1
  const read = (parameters: number) => (parameters * weightBytes) / (rates.bytesPerSecond * share)
  const reckon = (operations: number) => operations / (rates.operationsPerSecond * share)
  const active = activeParameters(model)
  const touched = parametersTouched(model, n)[n]
  // Hosts that hold whole layers take turns: one of them works at a time.
  const [bandwidth, arithmetic] = inTurns ? ['d·BW·η', 'd·F·η'] : ['D·BW·η', 'D·F·η']
  const group = inWork(n, rates)
  const exchange = (tokens: number) => communicationSeconds(model.layers, model.width, rates, tokens)
  const alone = isAlone(rates)
  const lines = [
    line(
      `M[${n}]`,
      `reading the weights for ${n} side by side`,
      `touched·w / (${bandwidth})`,
      `${big(touched)} × ${threeDigits(weightBytes)} bytes`,
      coefficientWords(read(touched)),
      'model',
    ),
    line(
      `C[${n}]`,
      inTurns ? `arithmetic for groups of ${threeDigits(group)} of ${n} side by side` : `arithmetic for ${n} side by side`,
      `2·A·${inTurns ? 'n/h' : 'n'} / (${arithmetic})`,
      `2 × ${big(active)} × ${threeDigits(group)}`,
      coefficientWords(reckon(2 * active * group)),
      'model',
    ),
    ...(alone ? [] : [exchangeLine(model, rates)]),
    line(
      `O[${n}]`,
      'launch, and what the devices tell each other',
      exchangeFormula(rates, 'n'),
      exchangeFigures(model, rates, group),
      coefficientWords(rates.launchSeconds + exchange(group)),
      'assumptions, machine',
    ),
    line(
      'P0',
      'prefill, whatever the prompt',
      exchangeFormula(rates, '0'),
      exchangeFigures(model, rates, 0),
      coefficientWords(rates.launchSeconds + exchange(0)),
      'assumptions, machine',
    ),
    line(
      'P1',
      'prefill, for each prompt token',
      `2·A / (${arithmetic})`,
      `2 × ${big(active)}`,
      coefficientWords(reckon(2 * active)),
      'model',
    ),
    ...(alone
      ? []
      : [
          line(
            'Px',
            'prefill, what the devices tell each other of each prompt token',
            'exchange(1) − exchange(0)',
            `${coefficientWords(exchange(1))} − ${coefficientWords(exchange(0))}`,
            coefficientWords(exchange(1) - exchange(0)),
            'machine',
          ),
        ]),
    line(
      'P2',
      'prefill, for each squared prompt token',
      `2·L·H / (${arithmetic})`,
      `2 × ${model.layers} × ${model.width}`,
      coefficientWords(reckon(2 * model.layers * model.width)),
      'model',
    ),
    line(
      'Pm',
      'prefill, one read of the weights',
      `P·w / (${bandwidth})`,
      `${big(model.parameters)} × ${threeDigits(weightBytes)} bytes`,
      coefficientWords(read(model.parameters)),
      'model',
    ),
  ]
  if (model.kind === 'experts') {
    const { sharedParameters, expertParameters } = expertSplit(model)
    lines.unshift(
      line(
        `touched[${n}]`,
        `parameters that ${n} tokens hit`,
        'shared + experts·(1 − (1 − k/E)ⁿ)',
        `${big(sharedParameters)} + ${big(expertParameters)} × (1 − (1 − ${model.expertsPerToken}/${model.experts})^${n})`,
        big(touched),
        'model',
      ),
    )
  }
  return lines
}

/** What devices that share a layer need to add up the activations of one token. */
function exchangeLine({ width }: TokenModel, rates: Rates): DerivationLine {
  const { perHost, hosts, split, hopSeconds, linkBytesPerSecond, hostHopSeconds, hostLinkBytesPerSecond } = rates
  const between = hosts > 1 && split === 'heads'
  const part = (members: number, hop: number, rate: number) =>
    `${members} at ${showQuantity(rate, 'byteRate')}, ${coefficientWords(hop)} a hop`
  const figures = [
    ...(perHost > 1 ? [part(perHost, hopSeconds, linkBytesPerSecond)] : []),
    ...(between ? [part(hosts, hostHopSeconds, hostLinkBytesPerSecond)] : []),
  ].join('; between machines ')
  return line(
    'E(H·a)',
    'adding up what one token leaves on the devices that share a layer',
    `2⌈log₂ d⌉·hop + 2(d − 1)/d · x/link${between ? ', and the same between machines' : ''}`,
    figures,
    coefficientWords(exchangeSeconds(width * ACTIVATION_BYTES, rates)),
    'machine',
  )
}

const isAlone = ({ perHost, hosts }: Pick<Rates, 'perHost' | 'hosts'>) => perHost * hosts === 1

const exchangeFormula = ({ perHost, hosts, split }: Rates, tokens: string) =>
  isAlone({ perHost, hosts })
    ? 'launch'
    : `launch + 2·L·E(${tokens}·H·a)${split === 'layers' && hosts > 1 ? ' + (h − 1)·(host hop + bytes / host link)' : ''}`

function exchangeFigures(model: TokenModel, rates: Rates, tokens: number): string {
  if (isAlone(rates)) return coefficientWords(rates.launchSeconds)
  const x = tokens * model.width * ACTIVATION_BYTES
  const borders = bordersSeconds(x, rates)
  return `${coefficientWords(rates.launchSeconds)} + 2 × ${model.layers} × ${coefficientWords(exchangeSeconds(x, rates))}${borders > 0 ? ` + ${coefficientWords(borders)}` : ''}`
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
