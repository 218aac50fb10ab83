export { FINDS, type Finds, type OneAsked, type OneMoney } from './asked.ts'
export { oneRequest, type OnePart, type OneRequest, type PartName } from './oneRequest.ts'
export { estimatedTokens, likelyAsked, likelyPlace, type Place } from './likely.ts'
export { askedWords, oneWords, PART_WORDS, partRows, writingSpeed } from './oneWords.ts'
