import type { Answer, RecommendProgress } from '@sandclock/core'
import { describe, expect, it } from 'vitest'
import { demoPlan } from '../data/demo.ts'
import { isLarge, SearchRun, type Question, type Searchers } from './searchRun.ts'

const HERE = { of: 'here' } as unknown as Answer
const THERE = { of: 'there' } as unknown as Answer
const progress = (settled: number) => ({ settled }) as RecommendProgress
const service = demoPlan.services[0]
const large = {
  ...demoPlan,
  services: [
    { ...service, search: { ...service.search, sequences: Array.from({ length: 400 }, (_, i) => i + 1) } },
    ...demoPlan.services.slice(1),
  ],
}
const question = (plan = demoPlan, place: Question['place'] = 'by size'): Question => ({ plan, text: plan.name, log: undefined, place })

/** A promise that is settled from outside. */
function later<T>(): { promise: Promise<T>; resolve: (value: T) => void; reject: (error: Error) => void } {
  let [resolve, reject] = [(_: T) => undefined as void, (_: Error) => undefined as void]
  const promise = new Promise<T>((yes, no) => ([resolve, reject] = [yes, no]))
  return { promise, resolve, reject }
}

/** Searchers that note what is asked of them; their answers come when the test lets them. */
function watched(threads = 4, takes = threads > 0) {
  const seen: string[] = []
  const [here, there] = [[later<Answer>()], later<Answer>()]
  const hear: ((p: RecommendProgress) => void)[] = []
  const searchers: Searchers = {
    here: {
      find: (plan, _, onProgress) => {
        seen.push(`here ${plan.name}`)
        hear.push(onProgress)
        here.push(later())
        return here[here.length - 2].promise
      },
      giveUp: () => seen.push('given up here'),
    },
    server: {
      threads: async () => threads,
      begin: async (text, onProgress) => {
        seen.push(`there ${text}`)
        if (!takes) return undefined
        hear.push(onProgress)
        return { answer: there.promise, end: () => seen.push('ended there') }
      },
    },
  }
  const search = new SearchRun(searchers, {
    progress: (p) => seen.push(`heard ${p.settled}`),
    threads: (n) => seen.push(`${n} threads`),
    onServer: (is) => seen.push(is ? 'is there' : 'is here'),
  })
  return { seen, search, here, there, hear, reached: (what: string) => expect.poll(() => seen).toContain(what) }
}

describe('a search', () => {
  it('of few options is done here, and heard of until it ends', async () => {
    const { search, seen, here, hear, reached } = watched()
    expect(isLarge(demoPlan)).toBe(false)
    const found = search.find(question())
    await reached(`here ${demoPlan.name}`)
    hear[0](progress(3))
    here[0].resolve(HERE)
    expect(await found).toBe(HERE)
    hear[0](progress(4))
    expect(seen).toContain('heard 3')
    expect(seen).not.toContain('heard 4')
    expect(search.isRunning).toBe(false)
  })

  it('of many options is done on the server, where its answer stays', async () => {
    const { search, seen, there, reached } = watched()
    expect(isLarge(large)).toBe(true)
    const found = search.find(question(large))
    await reached('is there')
    there.resolve(THERE)
    expect(await found).toBe(THERE)
    expect(seen.filter((s) => /^ended|^is here|^here/.test(s))).toEqual([])
  })

  it.each([
    ['there is no server', 0, large, 'by size'],
    ['the person wants it here', 4, large, 'here'],
  ] as const)('of many options is done here when %s', async (_, threads, plan, place) => {
    const { search, seen, here } = watched(threads)
    here[0].resolve(HERE)
    expect(await search.find(question(plan, place))).toBe(HERE)
    expect(seen).not.toContain('is there')
  })

  it('goes on on a server that has no room for another, where it is that of the same plan', async () => {
    const { search, there, reached } = watched(0, true)
    const found = search.find(question(large))
    await reached('is there')
    there.resolve(THERE)
    expect(await found).toBe(THERE)
  })

  it('is done here when the server breaks', async () => {
    const { search, there, here, reached } = watched()
    const found = search.find(question(demoPlan, 'server'))
    await reached('is there')
    there.reject(new Error('the server does not know the search any more'))
    await reached('is here')
    here[0].resolve(HERE)
    expect(await found).toBe(HERE)
  })

  it('ends when the next begins: its answer and its failure are nobody’s any more', async () => {
    const { search, seen, here, hear, reached } = watched()
    const first = search.find(question())
    await reached(`here ${demoPlan.name}`)
    const second = search.find(question({ ...demoPlan, name: 'second' }))
    expect(seen).toContain('given up here')
    await reached('here second')
    here[0].reject(new Error('given up'))
    here[1].resolve(HERE)
    hear[0](progress(1))
    expect(await first).toBeUndefined()
    expect(await second).toBe(HERE)
    expect(seen).not.toContain('heard 1')
  })

  it('ends on the server at once, also while the server takes it in', async () => {
    const { search, seen, reached } = watched()
    const found = search.find(question(large))
    await reached(`there ${large.name}`)
    search.end()
    expect(await found).toBeUndefined()
    await reached('ended there')
    expect(seen).not.toContain('is here')
  })

  it('that fails here says why', async () => {
    const { search, here } = watched()
    here[0].reject(new Error('no room'))
    await expect(search.find(question())).rejects.toThrow('no room')
    expect(search.isRunning).toBe(false)
  })
})
