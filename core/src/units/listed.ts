/** Names as a sentence has them. @param words at least one @example listed(['a', 'b', 'c']) // 'a, b and c' */
export const listed = (words: readonly string[]): string =>
  words.length < 2 ? words.join() : `${words.slice(0, -1).join(', ')} and ${words[words.length - 1]}`
