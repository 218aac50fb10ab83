export { FINDS, type Finds, type OneAsked, type OneMoney } from './asked.ts'
export { oneRequest, type OnePart, type OneRequest, type PartName } from './oneRequest.ts'
export { estimatedTokens, likelyAsked, likelyPlace, type ReplicaPlace } from './likely.ts'
export { askedWords, oneCaution, oneWords, PART_WORDS, partRows, writingSpeed } from './oneWords.ts'
