import { grouped, MOST_THROUGH_SERVER, type Measured, type ProbedRequest, type Served, type StatedOrder } from '@sandclock/core'
import { useLocalStorage, useSessionStorage } from '@vueuse/core'
import { nanoid } from 'nanoid'
import { defineStore } from 'pinia'
import { ref, shallowRef, toRaw, watch } from 'vue'
import { database, type StoredMeasurement } from '../data/database.ts'
import { orderOf, readKeptOrder, USUAL_ORDER, type KeptOrder } from '../data/measureOrder.ts'
import { beginProbe, hearProbe, stopProbe, type ProbeEnd } from '../data/serverProbe.ts'
import type { Trouble } from './planStore.ts'
import { useLogStore } from './logStore.ts'
import { useThrownStore } from './thrownStore.ts'
import { useViewStore } from './viewStore.ts'

/** A measurement that is looked at: while it goes on without an end. */
export interface Looked extends Omit<StoredMeasurement, 'rows' | 'order'> {
  order: StatedOrder | null
  ended: boolean
}
export type KeptName = Pick<StoredMeasurement, 'id' | 'name' | 'measuredAt' | 'count'>

/** What is asked, by the server of this page, of a real endpoint; what came of it, and what is told of that. */
export const useMeasureStore = defineStore('measure', () => {
  const order = useLocalStorage<KeptOrder>('sand-clock-measure-order', USUAL_ORDER, {
    serializer: { read: (text) => readKeptOrder(parsed(text)), write: (o) => JSON.stringify(o) },
    shallow: true,
  })
  /** the measurement that goes on, so that a page which is loaded anew comes back to it */
  const running = useSessionStorage('sand-clock-measuring', '')
  const looked = shallowRef<Looked | null>(null)
  const rows = shallowRef<ProbedRequest[]>([])
  /** undefined while nothing is told of these yet */
  const told = shallowRef<Measured>()
  const kept = shallowRef<KeptName[]>([])
  /** another one that it is compared with */
  const former = shallowRef<{ name: string; told: Measured } | null>(null)
  /** what of the service that was asked its answers do not say */
  const served = ref<Served>({ replicas: 1, sequences: 1024, prompts: 'whole' })
  const trouble = shallowRef<Trouble | null>(null)
  let unhear = () => undefined as void
  let started: Promise<void> | undefined

  /** Looks at what was measured last, or goes on with what still is. */
  const start = () => (started ??= begun())
  async function begun(): Promise<void> {
    await refresh()
    if (running.value) return listen(running.value)
    if (!looked.value && kept.value[0]) await look(kept.value[0].id)
  }

  async function refresh(): Promise<void> {
    const all = await database.measured.orderBy('measuredAt').reverse().toArray()
    kept.value = all.map(({ id, name, measuredAt, count }) => ({ id, name, measuredAt, count }))
  }

  function say(message: string): void {
    const [title, ...lines] = message.split('\n')
    trouble.value = { title, lines: lines.map((l) => l.trim()) }
  }

  async function begin(): Promise<void> {
    trouble.value = null
    const asked = toRaw(order.value)
    const { log } = asked
    const sent = asked.shape.kind === 'log' ? await useLogStore().named(log ?? '') : undefined
    if (asked.shape.kind === 'log' && !sent)
      return say(
        log === undefined ? NO_LOG : `The request log “${log}” is not in this browser any more: choose another, or drop it into Load.`,
      )
    const said = await beginProbe(orderOf(asked, sent?.requests))
    if ('message' in said) return say(said.message)
    running.value = said.id
    listen(said.id)
    const count = sent?.requests.at.length ?? 0
    if (count > MOST_THROUGH_SERVER)
      say(
        `Of the ${grouped(count, 0)} requests of this log the first ${grouped(MOST_THROUGH_SERVER, 0)} are sent: for more use the command line.`,
      )
  }

  function listen(id: string): void {
    unhear()
    const asked = toRaw(order.value)
    looked.value = { id, name: nameOf(asked), measuredAt: Date.now(), order: asked, count: 0, ended: false }
    rows.value = []
    told.value = undefined
    former.value = null
    unhear = hearProbe(id, {
      rows: (more) => {
        rows.value = [...rows.value, ...more]
      },
      end: (end) => void over(end),
      failure: (sentence) => {
        say(sentence)
        void over({})
      },
    })
  }

  /** Stops it. Where the server does not answer any more, what came until then is kept. */
  async function stop(): Promise<void> {
    if (await stopProbe(running.value)) return
    unhear()
    say('The server of this page does not answer any more; what came until then is kept.')
    await over({ cutShort: 'told' })
  }

  async function over(end: ProbeEnd): Promise<void> {
    running.value = ''
    if (!looked.value) return
    if (rows.value.length === 0) {
      looked.value = null
      if (kept.value[0]) await look(kept.value[0].id)
      return
    }
    looked.value = { ...looked.value, ...end, count: rows.value.length, ended: true }
    const csv = await useViewStore().measuredRows(rows.value)
    // What is told is of what is kept: the same tomorrow, and on the command line.
    const read = await useViewStore().readMeasured(csv)
    if (read.ok) rows.value = read.value
    await keep(csv)
    await tell()
  }

  /** Keeps what is looked at, with its requests as CSV. One that the browser has no room for is told, and goes out as a file. */
  async function keep(csv: string): Promise<void> {
    const { ended: _, ...now } = looked.value!
    try {
      await database.measured.put({ ...now, order: now.order ? JSON.parse(JSON.stringify(now.order)) : null, rows: csv })
      await refresh()
    } catch (error) {
      say(`The browser has no room to keep this measurement (${error instanceof Error ? error.name : String(error)}): save it as a file.`)
    }
  }

  async function tell(): Promise<void> {
    const of = rows.value
    const found = await useViewStore().tellMeasured(of, { ...toRaw(served.value) }, looked.value?.order?.how)
    if (rows.value === of) told.value = found
  }
  watch(
    served,
    () => {
      if (looked.value?.ended) void tell()
    },
    { deep: true },
  )

  async function look(id: string): Promise<void> {
    const found = await database.measured.get(id)
    if (!found) return
    const { rows: csv, order: asked, ...rest } = found
    const read = await useViewStore().readMeasured(csv)
    if (!read.ok) return say(read.message)
    unhear()
    looked.value = { ...rest, order: asked as StatedOrder | null, ended: true }
    rows.value = read.value
    told.value = undefined
    former.value = null
    await tell()
  }

  /** Lays another one that is kept beside it. */
  async function compare(id: string): Promise<void> {
    former.value = null
    const found = await database.measured.get(id)
    const read = found && (await useViewStore().readMeasured(found.rows))
    if (!found || !read?.ok) return
    former.value = { name: found.name, told: await useViewStore().tellMeasured(read.value, { ...toRaw(served.value) }) }
  }

  /** Takes measured requests of a file in, as of today. */
  async function read(name: string, csv: string): Promise<void> {
    trouble.value = null
    if (running.value) return say(`${name} can not be looked at while something is measured: wait for its end, or stop it.`)
    const found = await useViewStore().readMeasured(csv)
    if (!found.ok) return say(`${name}: ${found.message}`)
    looked.value = { id: nanoid(), name, measuredAt: Date.now(), order: null, count: found.value.length, ended: true }
    rows.value = found.value
    told.value = undefined
    former.value = null
    await keep(csv)
    await tell()
  }

  async function throwAway(id: string): Promise<void> {
    const found = await database.measured.get(id)
    if (!found) return
    const thrown = useThrownStore()
    thrown.last = { id: await thrown.put('measured', found.name, found), name: found.name }
    await database.measured.delete(id)
    await refresh()
    if (looked.value?.id !== id) return
    looked.value = null
    rows.value = []
    told.value = undefined
    if (kept.value[0]) await look(kept.value[0].id)
  }

  /** What was thrown away is kept again, and looked at. */
  async function restore(thrown: StoredMeasurement): Promise<void> {
    await database.measured.put(thrown)
    await refresh()
    await look(thrown.id)
  }

  return {
    order,
    running,
    looked,
    rows,
    told,
    kept,
    former,
    served,
    trouble,
    start,
    begin,
    stop,
    look,
    compare,
    compareNoMore: () => (former.value = null),
    read,
    throwAway,
    restore,
  }
})

function parsed(text: string): unknown {
  try {
    return JSON.parse(text) as unknown
  } catch {
    return undefined
  }
}

/** What a measurement is called: whom it asked. */
const NO_LOG = 'No request log is chosen: drop one into Load, which keeps it, and choose it here.'

function nameOf({ how }: StatedOrder): string {
  const said = /^name:\s*["']?(.+?)["']?\s*$/m.exec(how)?.[1] ?? /^url:\s*["']?https?:\/\/([^/"'\s]+)/m.exec(how)?.[1]
  return said ?? 'an endpoint'
}
