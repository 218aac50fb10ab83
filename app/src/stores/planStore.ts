import { BadInput, checkPlan, readPlan, writePlan, type Plan } from '@sandclock/core'
import { nanoid } from 'nanoid'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { database, savePlan, type StoredAnswer, type StoredPlan, type ThrownAway } from '../data/database.ts'
import { demoPlan } from '../data/demo.ts'
import { note, recoverNoted } from '../data/journal.ts'
import { mendedText } from '../data/mend.ts'
import { takeBack, throwAway, thrownAway } from '../data/thrown.ts'
import { takeMeasurement } from '../edits/marketEdits.ts'
import { lostMeasurements, type LostMeasurement } from '../edits/lostMeasurements.ts'

/** How many edits can be undone. */
const MOST_UNDO = 200
const LAST_PLAN = 'sand-clock-last-plan'

/** What went wrong with an edit or a file, in words. */
export interface Trouble {
  title: string
  lines: string[]
}

export function troubleOf(error: unknown): Trouble {
  if (!(error instanceof BadInput)) throw error
  const [title, ...lines] = error.message.split('\n')
  return { title, lines: lines.map((l) => l.trim()) }
}

/** A plan that was thrown away, with its answer. */
interface ThrownPlan {
  stored: StoredPlan
  answer: StoredAnswer | undefined
}

/** The plan that is open, its past and future, and the plans that are kept in the browser. */
export const usePlanStore = defineStore('plan', () => {
  const plan = shallowRef<Plan>(demoPlan)
  const id = ref('')
  const kept = shallowRef<Pick<StoredPlan, 'id' | 'name' | 'updatedAt'>[]>([])
  const past = shallowRef<Plan[]>([])
  const future = shallowRef<Plan[]>([])
  const trouble = shallowRef<Trouble | null>(null)
  /** said once, such as that a copy was made */
  const remark = ref('')
  const opened = ref(false)
  /** what can be had back, the last one first */
  const thrown = shallowRef<ThrownAway[]>([])
  /** the plan that was just thrown away, until it is had back or another view is looked at */
  const lastThrown = shallowRef<{ id: string; name: string } | null>(null)
  let revision = 0
  let saving: Promise<void> = Promise.resolve()

  /** Opens the plan of last time, or the demo. */
  async function start(): Promise<void> {
    const recovered = await recoverNoted(nanoid)
    await Promise.all([refreshKept(), refreshThrown()])
    if (recovered.length > 0) remark.value = recovered.length === 1 ? 'An edit that was made just before the page was left is kept.' : `Edits of ${recovered.length} plans that were made just before the page was left are kept.`
    const last = localStorage.getItem(LAST_PLAN)
    const there = kept.value.find((k) => k.id === last) ?? kept.value[0]
    if (!there || !(await open(there.id))) await add(demoPlan)
    opened.value = true
  }

  async function refreshKept(): Promise<void> {
    const all = await database.plans.orderBy('updatedAt').reverse().toArray()
    kept.value = all.map(({ id, name, updatedAt }) => ({ id, name, updatedAt }))
  }

  /** @returns whether it could be read; one that can not is left as it is */
  async function open(planId: string): Promise<boolean> {
    await saving
    const stored = await database.plans.get(planId)
    if (!stored) return false
    try {
      show(readPlan(stored.text), stored.id, stored.revision)
      return true
    } catch (error) {
      if (await openMended(stored)) return true
      // A newer Sand Clock in another tab may have written it.
      trouble.value = troubleOf(error)
      return false
    }
  }

  /** A plan that was kept under looser rules is opened without what contradicts it now; as it was it can be had back. */
  async function openMended(stored: StoredPlan): Promise<boolean> {
    const mended = mendedText(stored.text)
    if (!mended) return false
    await throwAway('unreadable', stored.name, stored)
    show(readPlan(mended.text), stored.id, stored.revision)
    remark.value = `This plan was kept under looser rules. Left out of it: ${mended.leftOut.join('; ')}. As it was it is under “Thrown away …”.`
    await refreshThrown()
    return true
  }

  function show(next: Plan, planId: string, atRevision: number): void {
    plan.value = next
    id.value = planId
    revision = atRevision
    past.value = []
    future.value = []
    localStorage.setItem(LAST_PLAN, planId)
  }

  /** Keeps a plan as a new one and opens it. */
  async function add(next: Plan): Promise<void> {
    await saving
    show(next, nanoid(), 0)
    await save()
  }

  function save(): Promise<void> {
    const snapshot = { id: id.value, name: plan.value.name, text: writePlan(plan.value) }
    saving = saving.then(async () => {
      const saved = await savePlan(snapshot, revision)
      if (saved !== undefined) revision = saved
      else await keepCopy(snapshot)
      await refreshKept()
    })
    return saving
  }

  /** Another tab saved this plan meanwhile: this tab goes on with a copy, and both are kept. */
  async function keepCopy(snapshot: { name: string; text: string }): Promise<void> {
    const copy = { ...plan.value, name: `${snapshot.name.slice(0, 60)} (this tab)` }
    plan.value = copy
    id.value = nanoid()
    revision = (await savePlan({ id: id.value, name: copy.name, text: writePlan(copy) }, 0)) ?? 0
    localStorage.setItem(LAST_PLAN, id.value)
    remark.value = 'Another tab changed this plan too. Your changes go on in a copy; both are kept.'
  }

  /**
   * Changes the plan if the result is a plan.
   *
   * @returns whether it was changed; if not, `trouble` says why
   */
  function edit(change: (plan: Plan) => Plan): boolean {
    try {
      const next = checkPlan(change(plan.value))
      note({ planId: id.value, name: next.name, text: writePlan(next), revision })
      void keepLost(lostMeasurements(plan.value, next))
      past.value = [...past.value.slice(-MOST_UNDO + 1), plan.value]
      future.value = []
      plan.value = next
      trouble.value = null
    } catch (error) {
      trouble.value = troubleOf(error)
      return false
    }
    void save()
    return true
  }

  function step(from: typeof past, to: typeof past): void {
    const next = from.value.at(-1)
    if (!next) return
    to.value = [...to.value, plan.value]
    from.value = from.value.slice(0, -1)
    note({ planId: id.value, name: next.name, text: writePlan(next), revision })
    plan.value = next
    trouble.value = null
    void save()
  }

  /** Reads the text of a plan file and opens it beside the others. */
  async function importText(text: string): Promise<boolean> {
    try {
      await add(readPlan(text))
      trouble.value = null
      return true
    } catch (error) {
      trouble.value = troubleOf(error)
      return false
    }
  }

  async function remove(planId: string): Promise<void> {
    await saving
    const [stored, answer] = await Promise.all([database.plans.get(planId), database.answers.get(planId)])
    if (!stored) return
    lastThrown.value = { id: await throwAway('plan', stored.name, { stored, answer } satisfies ThrownPlan), name: stored.name }
    await Promise.all([database.plans.delete(planId), database.answers.delete(planId), database.journal.delete(planId)])
    await Promise.all([refreshKept(), refreshThrown()])
    if (planId !== id.value) return
    const next = kept.value[0]
    if (!next || !(await open(next.id))) await add(demoPlan)
  }

  /** Puts aside what was kept and can not be read, and says so; once, however often it is come upon (another tab tells of it too). */
  function putAside(name: string, data: unknown, goesOn: string): Promise<void> {
    lastAside = lastAside.then(async () => {
      const text = JSON.stringify(data)
      if (!(await thrownAway()).some((t) => t.kind === 'unreadable' && JSON.stringify(t.data) === text)) await throwAway('unreadable', name, data)
      remark.value = `What was kept as ${name} can not be read: ${goesOn}. As it was it is under “Thrown away …”.`
      await refreshThrown()
    })
    return lastAside
  }
  let lastAside = Promise.resolve()

  async function refreshThrown(): Promise<void> {
    thrown.value = await thrownAway()
  }

  async function keepLost(lost: readonly LostMeasurement[]): Promise<void> {
    for (const one of lost) await throwAway('measurement', `${one.model}, ${one.variant} on ${one.measurement.machine}`, one)
    if (lost.length > 0) await refreshThrown()
  }

  /** Has something back that was thrown away. Logs and pins are put where they were by `others`. */
  async function haveBack(thrownId: string, others: (found: ThrownAway) => Promise<void>): Promise<void> {
    const found = await takeBack(thrownId)
    if (lastThrown.value?.id === thrownId) lastThrown.value = null
    if (found?.kind === 'plan') {
      const { stored, answer } = found.data as ThrownPlan // written by `remove`
      await database.plans.put({ ...stored, updatedAt: Date.now() })
      if (answer) await database.answers.put(answer)
      await refreshKept()
      await open(stored.id)
    } else if (found?.kind === 'measurement') {
      const { model, variant, measurement } = found.data as LostMeasurement // written by `keepLost`
      if (!edit(takeMeasurement(model, variant, measurement))) await throwAway(found.kind, found.name, found.data)
    } else if (found) await others(found)
    await refreshThrown()
  }

  return {
    thrown, lastThrown, haveBack, putAside, refreshThrown, plan, id, kept, trouble, remark, opened,
    canUndo: computed(() => past.value.length > 0),
    canRedo: computed(() => future.value.length > 0),
    start, open, add, edit, importText, remove,
    copy: () => add({ ...plan.value, name: `${plan.value.name.slice(0, 70)} (copy)` }),
    undo: () => step(past, future),
    redo: () => step(future, past),
    /** the plan file of the open plan */
    text: computed(() => writePlan(plan.value)),
  }
})
