import type { TokenModel, Variant } from '../plan/schema.ts'
import type { MemorySplit } from '../service/memory.ts'
import { devicesOfLayer, layoutOf } from '../service/rates.ts'
import { bitsOf, bytesPerWeight } from '../service/variant.ts'
import { bytes } from '../units/bytes.ts'
import { percent, threeDigits } from '../units/number.ts'
import { big, line, type DerivationLine, type Derived } from './derivationLine.ts'

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
