// @vitest-environment happy-dom
import 'fake-indexeddb/auto'
import { readRequestLog, type LogColumns, type RequestLog } from '@sandclock/core'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, expect, it, vi } from 'vitest'
import { database, type KeptFile } from '../data/database.ts'
import { demoPlan } from '../data/demo.ts'
import { useLogStore, type LogReport } from './logStore.ts'
import { useViewStore } from './viewStore.ts'

const read = vi.fn(async (files: readonly KeptFile[], _?: unknown) => {
  const opened = await Promise.all(files.map(async ({ name, bytes }) => ({ name, bytes: new Uint8Array(await bytes.arrayBuffer()) })))
  return { ok: true, value: { log: await readRequestLog(opened), happened: '' } }
})
/** Nothing is replaced: the log was what it was asked with. */
const replaced = vi.fn((_plan: unknown, _log: unknown) => Promise.resolve({ ok: true, value: { plan: demoPlan, unknown: [], absent: [] } }))
beforeEach(async () => {
  await database.logs.clear()
  setActivePinia(createPinia())
  // In place of what is asked in a worker.
  const matchLog = (_: unknown, log: RequestLog) => Promise.resolve({ ok: true, value: { log } })
  Object.assign(useViewStore(), { readLog: read, replaceLoad: replaced, matchLog })
})

it('reads a log that was kept as the bytes of one file, as logs were at first', async () => {
  await database.logs.put({ name: 'old.csv', bytes: new TextEncoder().encode('arrival,class,input\n5,pilot desk,10\n9,pilot desk,20\n') })
  const [desk, ...others] = demoPlan.classes
  const plan = { ...demoPlan, log: 'old.csv', classes: [{ ...desk, arrivals: { kind: 'log' as const } }, ...others] }
  const log = await useLogStore().logFor(plan)
  expect([...(log?.requests.at ?? [])]).toEqual([0, 4])
  expect([...(log?.requests.input ?? [])]).toEqual([10, 20])
})

it('takes the columns as they were last said to be, however soon after it the log is used', async () => {
  const store = useLogStore()
  const files = [{ name: 'n.csv', bytes: new Blob(['x']) }]
  const columns = (name: string) => ({ at: name }) as unknown as LogColumns
  store.report = { files, peek: { headers: ['a'] }, columns: columns('guessed'), isRemembered: false } as unknown as LogReport
  const waiting: (() => void)[] = []
  read.mockImplementation(
    (_, said) =>
      new Promise((done) =>
        waiting.push(() => done({ ok: true, value: { log: { files, badRows: [], said } as unknown as RequestLog, happened: '' } })),
      ),
  )
  void store.setColumns(columns('first'))
  // The next choice begins from the one before, which is not read yet.
  expect(store.report?.columns).toEqual(columns('first'))
  void store.setColumns(columns('second'))
  const used = store.use()
  expect(replaced).not.toHaveBeenCalled()
  for (const answer of waiting.reverse()) answer()
  await used
  expect(replaced).toHaveBeenCalledTimes(1)
  expect(replaced.mock.calls[0][1]).toMatchObject({ said: columns('second') })
  expect(await database.logShapes.toArray()).toMatchObject([{ columns: columns('second') }])
})
