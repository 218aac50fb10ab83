import {
  rungOf,
  rungsBeside,
  optionOf,
  type Choice,
  type CopiesReport,
  type LeverReport,
  type ServiceAnswer,
  type SparingReport,
  type VolumeReport,
  type WorldsAndWorth,
} from '@sandclock/core'
import { reactive, shallowRef, watch, type Ref } from 'vue'
import { drawn } from './frames.ts'
import { useAnswerStore } from '../stores/answerStore.ts'
import { useViewStore } from '../stores/viewStore.ts'
import type { MoneyView } from '../worker/runViews.ts'

/** What is told at once, and what goes on for many seconds: each a line of its own, so that nothing quick waits behind something long. */
const LINES = [['money'], ['levers', 'spared', 'volume', 'copies', 'worlds']] as const
type Line = (typeof LINES)[number]
type Part = Line[number]

const runName = (service: string, c: Choice) => ({ service, option: optionOf(c), machines: c.machines })

const sized = (choices: readonly Choice[]) => choices.map((o) => ({ option: optionOf(o), machines: o.machines }))

/**
 * The chosen run of a service again: where the money of all goes, what its inputs do, machines against calls. Each is reckoned once it
 * is `seen`; nothing of a plan that the views do not hold any more.
 */
export function useChosenRun(current: Readonly<Ref<ServiceAnswer | undefined>>): {
  seen: Record<Part, boolean>
  moneys: Readonly<Ref<{ service: string; money: MoneyView }[]>>
  /** what has to be asked for before all of them run, a sentence an offer */
  needed: Readonly<Ref<readonly string[]>>
  report: Readonly<Ref<(LeverReport & { done: boolean }) | null>>
  worlds: Readonly<Ref<(WorldsAndWorth & { done: boolean }) | null>>
  spared: Readonly<Ref<(SparingReport & { done: boolean }) | null>>
  copies: Readonly<Ref<(CopiesReport & { done: boolean }) | null>>
  volume: Readonly<Ref<(VolumeReport & { done: boolean }) | null>>
} {
  const [answers, views] = [useAnswerStore(), useViewStore()]
  const seen = reactive<Record<Part, boolean>>({ money: false, levers: false, worlds: false, spared: false, volume: false, copies: false })
  const moneys = shallowRef<{ service: string; money: MoneyView }[]>([])
  const needed = shallowRef<readonly string[]>([])
  const report = shallowRef<(LeverReport & { done: boolean }) | null>(null)
  const worlds = shallowRef<(WorldsAndWorth & { done: boolean }) | null>(null)
  const spared = shallowRef<(SparingReport & { done: boolean }) | null>(null)
  const copies = shallowRef<(CopiesReport & { done: boolean }) | null>(null)
  const volume = shallowRef<(VolumeReport & { done: boolean }) | null>(null)
  const told = new Set<Part>()
  const busy = new Set<Line>()
  let asked = 0

  /** The ledger of every service, the one that is looked at last so that its run is still held. */
  async function tellMoney(isOver: () => boolean): Promise<void> {
    const found: typeof moneys.value = []
    for (const { service, chosen } of answers.answer?.services ?? []) {
      const money = chosen && (await views.ledgerOf(runName(service, chosen)))
      if (isOver()) return
      if (money) found.push({ service, money })
    }
    moneys.value = found
    const names = (answers.answer?.services ?? []).flatMap(({ service, chosen }) => (chosen ? [runName(service, chosen)] : []))
    const words = await views.neededOf(names)
    if (!isOver()) needed.value = words ?? []
  }

  const TELL: Record<Part, (answer: ServiceAnswer & { chosen: Choice }, isOver: () => boolean) => Promise<void>> = {
    money: (_, isOver) => tellMoney(isOver),
    levers: ({ service, chosen, runnersUp }, isOver) =>
      views.pull(runName(service, chosen), sized(runnersUp), (r) => (report.value = r), isOver),
    worlds: (answer, isOver) =>
      views.worlds(
        { ...runName(answer.service, answer.chosen), ...rungOf(answer.chosen) },
        rungsBeside(answer),
        (r) => (worlds.value = r),
        isOver,
      ),
    spared: ({ service, chosen }, isOver) => views.spare(runName(service, chosen), (r) => (spared.value = r), isOver),
    copies: ({ service, chosen }, isOver) => views.copies(runName(service, chosen), (r) => (copies.value = r), isOver),
    volume: ({ service, chosen, runnersUp }, isOver) =>
      views.volume(runName(service, chosen), sized(runnersUp), (r) => (volume.value = r), isOver),
  }

  /** What is to be told next in a line; a search that goes on has the machine for itself, but for the money. */
  function next(line: Line): Part | undefined {
    if (answers.stale || views.load.length === 0) return undefined
    return line.find((p) => seen[p] && !told.has(p) && (p === 'money' || !answers.working))
  }

  async function goOn(line: Line): Promise<void> {
    if (busy.has(line)) return
    busy.add(line)
    try {
      // What an answer changes is drawn first: on few cores the runs behind it would hold that up.
      await drawn()
      for (let part = next(line); part && current.value?.chosen; part = next(line)) {
        const mine = asked
        told.add(part)
        await TELL[part]({ ...current.value, chosen: current.value.chosen }, () => mine !== asked)
      }
    } finally {
      busy.delete(line)
    }
  }
  const goOnAll = () => LINES.forEach((line) => void goOn(line))

  watch(
    [current, () => views.load, () => answers.stale, () => answers.working === null],
    () => {
      asked++
      told.clear()
      report.value = worlds.value = spared.value = volume.value = copies.value = null
      if (answers.stale) moneys.value = needed.value = []
      goOnAll()
    },
    { immediate: true },
  )
  watch(seen, goOnAll)
  return { seen, moneys, needed, report, worlds, spared, volume, copies }
}
