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

/** From where to where y runs in a picture so high, from the bottom up. */
export const upward = ({ top, bottom }: Ends, height: number): [number, number] => [height - bottom, top]
