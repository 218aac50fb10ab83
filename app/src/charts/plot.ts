/** Room around a chart for what is written beside it, in pixels. */
interface Sides {
  left: number
  right: number
}
interface Ends {
  top: number
  bottom: number
}

/** From where to where x runs in a picture so wide, at least so many pixels. */
export const across = ({ left, right }: Sides, width: number, least = 1): [number, number] => [left, Math.max(left + least, width - right)]

/** Heights of words that stand at lines: as near to where they want to be as leaves each so much room below the one before. */
export function pushedApart(wanted: readonly number[], room: number, top = 0): number[] {
  const order = wanted.map((_, i) => i).sort((a, b) => wanted[a] - wanted[b])
  const at: number[] = []
  order.forEach((i, k) => (at[i] = Math.max(wanted[i], k === 0 ? top : at[order[k - 1]] + room)))
  return at
}

/** From where to where y runs in a picture so high, from the bottom up. */
export const upward = ({ top, bottom }: Ends, height: number): [number, number] => [height - bottom, top]
