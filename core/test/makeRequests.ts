import { emptyRequests, type Requests } from '../src/demand/requests.ts'

/** Requests from rows of (arrival seconds, input, output, class index), which must be in order of arrival. */
export function makeRequests(rows: readonly (readonly [at: number, input: number, output: number, classIndex?: number])[]): Requests {
  const out = emptyRequests(rows.length)
  rows.forEach(([at, input, output, classIndex = 0], i) => {
    out.at[i] = at
    out.input[i] = input
    out.output[i] = output
    out.classIndex[i] = classIndex
    out.id[i] = i + 1
  })
  return out
}
