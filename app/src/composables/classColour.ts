const COLOURS = ['var(--water)', 'var(--sand)', 'var(--heather)', 'var(--moss)']
const DASHES = [[], [7, 3], [2, 3], [9, 3, 2, 3]]

/** The hue of the class with this place in the plan; classes beyond the fourth begin again, told apart by {@link classDash}. */
export function classColour(index: number): string {
  return COLOURS[index % COLOURS.length]
}

/** The dash pattern that goes with a class's hue, so that colour never carries meaning alone. */
export function classDash(index: number): readonly number[] {
  return DASHES[(index + Math.floor(index / COLOURS.length)) % DASHES.length]
}

/** The value of a design token, for canvases, which do not know them. */
export function token(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim()
}
