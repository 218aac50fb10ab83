import { bare, duration, parseFigure, type BadInput, type FigureKind } from '@sandclock/core'

/**
 * A figure that an option states, which has to lie within bounds.
 *
 * @param refused how the command says that it does not
 */
export function within(
  refused: (path: string, rule: string, found?: string) => BadInput,
  option: string,
  text: string,
  kind: FigureKind,
  least: number,
  most: number,
): number {
  const value = parseFigure(text, kind)
  if (value >= least && value <= most) return value
  const end = (of: number) => (kind === 'duration' ? bare(duration(of)) : `${of}`)
  throw refused(
    option,
    `must be a ${kind === 'count' ? 'whole number' : kind === 'duration' ? 'time' : 'number'} from ${end(least)} to ${end(most)}`,
    text,
  )
}
