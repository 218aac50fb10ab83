/** Words as a sentence begins. @example capital('so it is') // 'So it is' */
export const capital = (words: string): string => `${words[0].toUpperCase()}${words.slice(1)}`
