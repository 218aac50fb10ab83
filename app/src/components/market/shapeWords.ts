import type { QuantityKind, ShapeField } from '@sandclock/core'

/** What the facts of a shape file are, for people. */
export const SHAPE_WORDS: Record<ShapeField, string> = {
  parameters: 'parameters',
  activeParameters: 'parameters that a token passes',
  layers: 'layers',
  width: 'width',
  keyValueHeads: 'key-value heads',
  headSize: 'size of a head',
  contextTokens: 'longest prompt and answer, tokens',
  experts: 'experts in a layer',
  expertsPerToken: 'experts for a token',
}

export const shapeKind = (field: ShapeField): QuantityKind => (field === 'parameters' || field === 'activeParameters' ? 'big' : 'count')
