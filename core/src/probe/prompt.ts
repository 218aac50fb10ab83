import { LETTERS_A_TOKEN } from '../one/likely.ts'

const WORDS = ['berth', 'tide', 'pilot', 'crane', 'anchor', 'quay', 'buoy', 'mast', 'cargo', 'harbour', 'signal', 'draught']

/**
 * A prompt of so many tokens, counted as everywhere here by its letters, that begins with its number: who keeps what prompts have in
 * common has nothing to keep.
 *
 * @param tokens at least 1; where the number alone is longer, it is cut
 * @example promptOf(4, 7) // '7 pilot tide cra'
 */
export function promptOf(tokens: number, number: number): string {
  const letters = tokens * LETTERS_A_TOKEN
  let text = `${number}`
  for (let i = number; text.length < letters; i++) text += ` ${WORDS[(i * 7 + (i >> 3)) % WORDS.length]}`
  return text.slice(0, letters).replace(/ $/, 's')
}
