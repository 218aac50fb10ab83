import type { TokenModel } from '../plan/schema.ts'
import { activeParameters, expertSplit, parametersTouched } from '../service/experts.ts'
import {
  ACTIVATION_BYTES,
  bordersSeconds,
  communicationSeconds,
  exchangeSeconds,
  inWork,
  workingShare,
  type Rates,
} from '../service/rates.ts'
import { threeDigits } from '../units/number.ts'
import { showQuantity } from '../units/quantity.ts'
import { coefficientWords } from './calibrationWords.ts'
import { big, line, type DerivationLine } from './derivationLine.ts'

/** Step costs of a token model, for n sequences side by side. */
export function tokenLines(model: TokenModel, weightBytes: number, rates: Rates, n: number): DerivationLine[] {
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
