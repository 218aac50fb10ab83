// @vitest-environment happy-dom
import 'fake-indexeddb/auto'
import { probedCsv, readProbed, tellMeasured, type ProbedRequest, type Served } from '@sandclock/core'
import { readFileSync } from 'node:fs'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { database } from '../data/database.ts'
import type { ProbeNews } from '../data/serverProbe.ts'
import { useMeasureStore } from './measureStore.ts'
import { useThrownStore } from './thrownStore.ts'

vi.mock('./viewStore.ts', () => ({
  useViewStore: () => ({
    measuredRows: (rows: readonly ProbedRequest[]) => Promise.resolve([...probedCsv(rows)].join('')),
    readMeasured: (csv: string) => {
      try {
        return Promise.resolve({ ok: true, value: readProbed(csv) })
      } catch (error) {
        return Promise.resolve({ ok: false, message: (error as Error).message, problems: [] })
      }
    },
    tellMeasured: (rows: readonly ProbedRequest[], served: Served) => Promise.resolve(tellMeasured(rows, served)),
  }),
}))
const server = vi.hoisted(() => ({ news: undefined as unknown, asked: undefined as unknown, begun: { id: 'x' } as object, stops: true }))
vi.mock('../data/serverProbe.ts', () => ({
  beginProbe: (order: unknown) => {
    server.asked = order
    return Promise.resolve(server.begun)
  },
  hearProbe: (_: string, news: ProbeNews) => {
    server.news = news
    return () => undefined
  },
  stopProbe: () => Promise.resolve(server.stops),
}))
vi.mock('./logStore.ts', () => ({
  useLogStore: () => ({
    named: (name: string) =>
      Promise.resolve(
        name === 'dock.csv'
          ? { requests: { at: Float64Array.of(3, 4.5), input: Int32Array.of(90, 80), output: Int32Array.of(7, 6) } }
          : undefined,
      ),
  }),
}))
const news = () => server.news as ProbeNews

const csv = readFileSync('examples/curlew-measured.csv', 'utf8')
const rows = readProbed(csv)

beforeEach(async () => {
  await Promise.all([database.measured, database.thrown].map((t) => t.clear()))
  localStorage.clear()
  sessionStorage.clear()
  server.begun = { id: 'x' }
  setActivePinia(createPinia())
})

describe('measureStore', () => {
  it('sends the requests of a log that is kept here, and keeps its name alone; one that is not here is said', async () => {
    const store = useMeasureStore()
    await store.start()
    const shape = { kind: 'log' as const, at: [], asking: [], sizes: [{ input: 10, output: 5 }] }
    store.order = { ...store.order, shape, log: 'dock.csv' }
    await store.begin()
    expect(server.asked).toMatchObject({
      shape: {
        at: [0, 1.5],
        asking: [
          { input: 90, output: 7 },
          { input: 80, output: 6 },
        ],
      },
    })
    expect(server.asked).not.toHaveProperty('log')
    expect(store.looked?.order).toMatchObject({ log: 'dock.csv', shape: { at: [] } })
    news().end({})
    await expect.poll(() => store.running).toBe('')
    store.order = { ...store.order, log: 'gone.csv' }
    await store.begin()
    expect(store.trouble?.title).toBe('The request log “gone.csv” is not in this browser any more: choose another, or drop it into Load.')
    const { log: _, ...others } = store.order
    store.order = others
    await store.begin()
    expect(store.trouble?.title).toContain('No request log is chosen')
    expect(store.running).toBe('')
  })

  it('grows while it is heard, and keeps and tells what there is at its end', async () => {
    const store = useMeasureStore()
    await store.start()
    await store.begin()
    expect(store.running).toBe('x')
    news().rows(rows.slice(0, 10))
    news().rows(rows.slice(10, 60))
    expect(store.rows).toHaveLength(60)
    expect(store.looked).toMatchObject({ ended: false, name: '127.0.0.1:8080' })
    news().end({ cutShort: 'told' })
    await expect.poll(() => store.told?.belief).toContain('Believable')
    expect(store.running).toBe('')
    expect(store.looked).toMatchObject({ ended: true, cutShort: 'told', count: 60 })
    const [kept] = await database.measured.toArray()
    expect(readProbed(kept.rows)).toHaveLength(60)
    expect(kept.order).toMatchObject({ shape: { kind: 'find-costs' } })
    // Another day it is looked at again, and told the same.
    const { belief } = store.told!
    setActivePinia(createPinia())
    const later = useMeasureStore()
    await later.start()
    expect(later.told?.belief).toBe(belief)
  })

  it('says why it was not begun, and does not mix a dropped file with what goes on', async () => {
    const store = useMeasureStore()
    server.begun = { message: 'Something is being measured here already.\n  wait' }
    await store.begin()
    expect(store.trouble).toEqual({ title: 'Something is being measured here already.', lines: ['wait'] })
    expect(store.running).toBe('')
    server.begun = { id: 'y' }
    await store.begin()
    news().rows(rows.slice(0, 5))
    await store.read('other.csv', csv)
    expect(store.trouble?.title).toContain('can not be looked at while something is measured')
    expect(store.rows).toHaveLength(5)
    // A server that is gone: what came is kept.
    server.stops = false
    await store.stop()
    expect(store.looked).toMatchObject({ ended: true, count: 5 })
    expect(store.told?.belief).toContain('only 5 of the requests')
    server.stops = true
  })

  it('takes a file in, lays another beside it, throws it away and has it back', async () => {
    const store = useMeasureStore()
    await store.read('all.csv', csv)
    const whole = store.told!.belief
    await store.read('some.csv', csv.split('\n').slice(0, 40).join('\n'))
    expect(store.kept.map((k) => k.name)).toEqual(['some.csv', 'all.csv'])
    await store.compare(store.kept[1].id)
    expect(store.former).toMatchObject({ name: 'all.csv', told: { belief: whole } })
    const { id } = store.looked!
    await store.throwAway(id)
    expect(store.looked?.name).toBe('all.csv')
    const [thrown] = useThrownStore().things
    expect(thrown).toMatchObject({ kind: 'measured', name: 'some.csv' })
    await store.restore(thrown.data as Parameters<typeof store.restore>[0])
    expect(store.looked?.name).toBe('some.csv')
    await store.read('bad.csv', csv.replace(',finished,', ',lost,'))
    expect(store.trouble?.lines.join()).toContain('line 2: has the outcome “lost”')
    expect(store.looked?.name).toBe('some.csv')
  })
})
