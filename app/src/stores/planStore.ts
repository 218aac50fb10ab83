import { BadInput, checkPlan, readPlan, writePlan, type Plan } from '@sandclock/core'
import { useManualRefHistory } from '@vueuse/core'
import { nanoid } from 'nanoid'
import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import { database, type StoredAnswer, type StoredPlan } from '../data/database.ts'
import { demoPlan } from '../data/demo.ts'
import { note, recoverNoted } from '../data/journal.ts'
import { fileName } from '../data/fileName.ts'
import { mendedText } from '../data/mend.ts'
import { PlanKeeper } from '../data/planKeeper.ts'
import { takeMeasurement } from '../edits/marketEdits.ts'
import { lostMeasurements, type LostMeasurement } from '../edits/lostMeasurements.ts'
import { useRemarkStore } from './remarkStore.ts'
import { useThrownStore } from './thrownStore.ts'

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

/** What is wrong with a file, and what it was taken for: who sees that it is something else knows what to mend. */
export function takenFor(what: string, fileName: string | undefined, { title, lines }: Trouble): Trouble {
  if (fileName === undefined) return { title, lines }
  return { title: `${fileName}: ${title}`, lines: [...lines, `It was taken for a ${what} by what is in it.`] }
}

/** A plan that was thrown away, with its answer. */
export interface ThrownPlan {
  stored: StoredPlan
  answer: StoredAnswer | undefined
}

/** The plan that is open, its past and future, and the plans that are kept in the browser. */
export const usePlanStore = defineStore('plan', () => {
  const plan = shallowRef<Plan>(demoPlan)
  const id = ref('')
  const kept = shallowRef<Pick<StoredPlan, 'id' | 'name' | 'updatedAt'>[]>([])
  const history = useManualRefHistory(plan, { capacity: MOST_UNDO })
  const trouble = shallowRef<Trouble | null>(null)
  const opened = ref(false)
  const [thrown, remarks] = [useThrownStore(), useRemarkStore()]
  const keeper = new PlanKeeper(() => plan.value)

  /** Opens the plan of last time, or the demo. */
  const start = () => (started = openFirst())
  /** Until that is done another plan that is opened waits: it would be shut again by the one of last time. */
  let started: Promise<void> = Promise.resolve()

  async function openFirst(): Promise<void> {
    const recovered = await recoverNoted(nanoid)
    await Promise.all([refreshKept(), thrown.refresh()])
    if (recovered.length > 0)
      remarks.words =
        recovered.length === 1
          ? 'An edit that was made just before the page was left is kept.'
          : `Edits of ${recovered.length} plans that were made just before the page was left are kept.`
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
    await keeper.settled()
    const stored = await database.plans.get(planId)
    if (!stored) return false
    try {
      show(readPlan(stored.text), stored)
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
    await thrown.put('unreadable', stored.name, stored)
    show(readPlan(mended.text), stored)
    remarks.words = `This plan was kept under looser rules. Left out of it: ${mended.leftOut.join('; ')}. As it was it is under “Thrown away …”.`
    return true
  }

  function show(next: Plan, stored?: StoredPlan): void {
    keeper.open(stored)
    plan.value = next
    history.commit()
    history.clear()
    nameOpen()
  }

  function nameOpen(): void {
    id.value = keeper.id
    localStorage.setItem(LAST_PLAN, keeper.id)
  }

  /** Keeps a plan as a new one and opens it. @param yaml that it came in, if it did */
  async function add(next: Plan, yaml?: string): Promise<void> {
    await keeper.settled()
    show(next)
    if (yaml !== undefined) await database.sources.put({ planId: keeper.id, yaml })
    await save()
  }

  const sourceOf = async (planId: string) => (await database.sources.get(planId))?.yaml

  /** Keeps the YAML of the open plan as it was typed, with its comments. */
  const keepYaml = async (yaml: string): Promise<void> => void (await database.sources.put({ planId: keeper.id, yaml }))

  /** The open plan as a file: in the YAML that it came in, with its comments, or else as JSON. */
  async function file(): Promise<{ name: string; text: string }> {
    const { name } = plan.value
    const yaml = await sourceOf(keeper.id)
    if (yaml === undefined) return { name: fileName(name), text: writePlan(plan.value) }
    const { rewritePlanYaml } = await import('../data/fileReaders.ts')
    return { name: fileName(name, 'yaml'), text: rewritePlanYaml(yaml, plan.value) }
  }

  async function save(): Promise<void> {
    const former = keeper.id
    await keeper.save((copy) => {
      plan.value = copy
      nameOpen()
      void sourceOf(former).then(async (yaml) => {
        if (yaml !== undefined) await database.sources.put({ planId: keeper.id, yaml })
      })
      remarks.words = 'Another tab changed this plan too. Your changes go on in a copy; both are kept.'
    })
    await refreshKept()
  }

  /**
   * Changes the plan if the result is a plan.
   *
   * @returns whether it was changed; if not, `trouble` says why
   */
  function edit(change: (plan: Plan) => Plan): boolean {
    const before = plan.value
    try {
      plan.value = checkPlan(change(before))
    } catch (error) {
      trouble.value = troubleOf(error)
      return false
    }
    history.commit()
    changed()
    void keepLost(lostMeasurements(before, plan.value))
    return true
  }

  /** An edit is noted before anything else. */
  function changed(): void {
    note({ planId: keeper.id, name: plan.value.name, text: writePlan(plan.value), revision: keeper.revision })
    trouble.value = null
    void save()
  }

  function step(there: { value: boolean }, go: () => void): void {
    if (!there.value) return
    go()
    changed()
  }

  /** Reads the text of a plan file, JSON or YAML, and opens it beside the others. */
  /** @param fileName of the file that it is from, if it is from one */
  async function importText(text: string, fileName?: string): Promise<boolean> {
    await started
    try {
      if (/^\s*[{[]/.test(text)) await add(readPlan(text))
      else await add((await import('../data/fileReaders.ts')).readPlanYaml(text), text)
      trouble.value = null
      return true
    } catch (error) {
      trouble.value = takenFor('plan', fileName, troubleOf(error))
      return false
    }
  }

  async function remove(planId: string): Promise<void> {
    await keeper.settled()
    const [stored, answer] = await Promise.all([database.plans.get(planId), database.answers.get(planId)])
    if (!stored) return
    thrown.last = { id: await thrown.put('plan', stored.name, { stored, answer } satisfies ThrownPlan), name: stored.name }
    await Promise.all([
      database.plans.delete(planId),
      database.answers.delete(planId),
      database.frontiers.delete(planId),
      database.journal.delete(planId),
    ])
    await refreshKept()
    if (planId !== id.value) return
    const next = kept.value[0]
    if (!next || !(await open(next.id))) await add(demoPlan)
  }

  /** Has a plan back that was thrown away, and opens it. */
  async function restore({ stored, answer }: ThrownPlan): Promise<void> {
    await database.plans.put({ ...stored, updatedAt: Date.now() })
    if (answer) await database.answers.put(answer)
    await refreshKept()
    await open(stored.id)
  }

  async function keepLost(lost: readonly LostMeasurement[]): Promise<void> {
    for (const one of lost) await thrown.put('measurement', `${one.model}, ${one.variant} on ${one.measurement.machine}`, one)
  }

  return {
    plan,
    id,
    kept,
    trouble,
    opened,
    start,
    open,
    add,
    edit,
    importText,
    remove,
    restore,
    canUndo: history.canUndo,
    canRedo: history.canRedo,
    /** Measurements that went with what they are of are put into the plan again. @returns whether it has room for them */
    restoreMeasurement: ({ model, variant, measurement }: LostMeasurement) => edit(takeMeasurement(model, variant, measurement)),
    copy: async () => add({ ...plan.value, name: `${plan.value.name.slice(0, 70)} (copy)` }, await sourceOf(keeper.id)),
    undo: () => step(history.canUndo, history.undo),
    redo: () => step(history.canRedo, history.redo),
    file,
    keepYaml,
  }
})
