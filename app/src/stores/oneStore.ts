import {
  likelyAsked,
  type Estimated,
  type OneAsked,
  type OneRequest,
  type Proof,
  type Reading,
  type ReplicaPlace,
  type Plan,
  type Service,
  type SizedAsked,
} from '@sandclock/core'
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import type { ProofProgress } from '../worker/proofSteps.ts'
import { useViewStore } from './viewStore.ts'

/** More beside each other are not told apart. */
export const MOST_ROWS = 4

/** One request as it is laid out, or why it can not be. */
export type OneResult = { one: OneRequest } | { message: string }

/** Requests beside each other, by service: they stay while one looks at other views. */
export const useOneStore = defineStore('one', () => {
  const rows = shallowRef<Readonly<Record<string, readonly OneAsked[]>>>({})
  const results = shallowRef<readonly (OneResult | undefined)[]>([])
  let asking = 0
  let begun = 0
  /** services whose requests somebody has changed: they stay as they are */
  const changed = new Set<string>()

  /** Those of a service; at first the same request that finds nothing, a stopped machine, a ready replica, and one that is full. */
  async function begin(plan: Plan, service: Service, chosen: ReplicaPlace | undefined): Promise<void> {
    if (changed.has(service.name)) return
    const mine = ++begun
    const place = chosen ?? (await useViewStore().likelyPlaceOf(service.name))
    if (!place || mine !== begun || changed.has(service.name)) return
    const asked = likelyAsked(plan, service, place)
    const full = Math.max(0, place.sequences - 1)
    put(service.name, [
      { ...asked, finds: 'nothing' },
      { ...asked, finds: 'stopped' },
      asked,
      ...(full > 0 ? [{ ...asked, others: Math.min(full, 8) }] : []),
    ])
  }

  const put = (service: string, list: readonly OneAsked[]) => (rows.value = { ...rows.value, [service]: list })

  function set(service: string, list: readonly OneAsked[]): void {
    changed.add(service)
    put(service, list)
  }

  /** Lays them out, in the worker; what was asked meanwhile comes first. */
  async function layOut(list: readonly OneAsked[]): Promise<void> {
    const mine = ++asking
    const found = await Promise.all(list.map((asked) => useViewStore().oneOf(asked)))
    if (mine === asking) results.value = found
  }

  /** Readings of a stopwatch, and what they prove. */
  const read = shallowRef<readonly Reading[]>([])
  const proof = shallowRef<Proof | null>(null)
  const proofTrouble = shallowRef('')
  const proving = shallowRef<{ settled: number; of: number } | null>(null)
  let provings = 0

  async function prove(asked: OneAsked | undefined): Promise<void> {
    const mine = ++provings
    proof.value = null
    proofTrouble.value = ''
    proving.value = null
    if (!asked || read.value.length === 0) return
    const told = ({ settled, of, proof: found, message }: ProofProgress & { done: boolean }) => {
      proving.value = found || message !== undefined ? null : { settled, of }
      if (found) proof.value = found
      if (message !== undefined) proofTrouble.value = message.replaceAll(/\n\s*/g, ' ')
    }
    await useViewStore().prove(
      { ...asked },
      read.value.map((r) => ({ ...r })),
      told,
      () => mine !== provings,
    )
  }

  /** Own estimates of the first of them, and what they leave out. */
  const mine = shallowRef<Readonly<Partial<Record<Estimated, number>>>>({})
  const mineWords = shallowRef<Readonly<Partial<Record<Estimated, string>>>>({})
  let checks = 0

  async function check(asked: OneAsked | undefined): Promise<void> {
    const mineNow = ++checks
    const typed = Object.entries(mine.value) as [Estimated, number | undefined][] // by its type
    const words = await Promise.all(
      typed.map(async ([what, value]) => [what, asked && value ? await useViewStore().estimateOf({ ...asked }, what, value) : undefined]),
    )
    if (mineNow === checks) mineWords.value = Object.fromEntries(words.filter(([, said]) => said !== undefined)) as typeof mineWords.value
  }

  /** of somebody who has only a model's size and a machine's name */
  const sized = shallowRef<SizedAsked>({ billions: 14, machine: '', finds: 'nothing', input: 600, output: 200, others: 0 })

  return { sized, mine, mineWords, check, read, proof, proofTrouble, proving, prove, rows, results, begin, set, layOut }
})
