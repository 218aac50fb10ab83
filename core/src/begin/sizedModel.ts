import type { DenseModel } from '../plan/schema.ts'
import { ln } from '../arithmetic/sameBits.ts'
import { SHAPES, denseOf } from './shapes.ts'

/** Parameters that a dense model may be said to have, in billions: those of phones and those of whole machines. */
export const SIZES = { least: 0.1, most: 1000 } as const

/** A dense model of which nothing is known but its size: layers, width and heads are those of the invented shape whose size is nearest. */
export function modelOfSize(billions: number): DenseModel {
  const near = nearest(billions)
  return { ...denseOf(`A ${Number(billions.toPrecision(4))}B model`, billions, near.layers, near.width, near.headSize) }
}

/** The name of the shape that says what its size does not. */
export const likeOfSize = (billions: number): string => nearest(billions).name

function nearest(billions: number): DenseModel {
  const dense = Object.values(SHAPES).flatMap(({ model }) => (model.kind === 'dense' ? [model as DenseModel] : []))
  const apart = (m: DenseModel) => Math.abs(ln(m.parameters / 1e9 / billions))
  return dense.reduce((best, m) => (apart(m) < apart(best) ? m : best))
}

/** A size as people name it, such as "13b" or "0.5B"; undefined for what is none. */
export function sizeFrom(text: string): number | undefined {
  const said = /^(\d+(?:\.\d+)?)b$/i.exec(text.trim())
  const billions = said ? Number(said[1]) : NaN
  return billions >= SIZES.least && billions <= SIZES.most ? billions : undefined
}
