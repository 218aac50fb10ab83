// @vitest-environment happy-dom
import 'fake-indexeddb/auto'
import { readRequestLog, type RequestLog } from '@sandclock/core'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, expect, it, vi } from 'vitest'
import { database, type KeptFile } from '../data/database.ts'
import { demoPlan } from '../data/demo.ts'
import { useLogStore } from './logStore.ts'

const read = vi.fn(async (files: readonly KeptFile[]) => {
  const opened = await Promise.all(files.map(async ({ name, bytes }) => ({ name, bytes: new Uint8Array(await bytes.arrayBuffer()) })))
  return { ok: true, value: { log: await readRequestLog(opened), happened: '' } }
})
vi.mock('./viewStore.ts', () => ({
  useViewStore: () => ({ readLog: read, matchLog: (_: unknown, log: RequestLog) => Promise.resolve({ ok: true, value: { log } }) }),
}))

beforeEach(async () => {
  await database.logs.clear()
  setActivePinia(createPinia())
})

it('reads a log that was kept as the bytes of one file, as logs were at first', async () => {
  await database.logs.put({ name: 'old.csv', bytes: new TextEncoder().encode('arrival,class,input\n5,pilot desk,10\n9,pilot desk,20\n') })
  const [desk, ...others] = demoPlan.classes
  const plan = { ...demoPlan, log: 'old.csv', classes: [{ ...desk, arrivals: { kind: 'log' as const } }, ...others] }
  const log = await useLogStore().logFor(plan)
  expect([...(log?.requests.at ?? [])]).toEqual([0, 4])
  expect([...(log?.requests.input ?? [])]).toEqual([10, 20])
})
