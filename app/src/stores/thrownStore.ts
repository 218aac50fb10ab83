import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import type { ThrownAway } from '../data/database.ts'
import { takeBack, throwAway, thrownAway } from '../data/thrown.ts'
import { useRemarkStore } from './remarkStore.ts'

/** Puts something back to where it was. @returns whether it is there; if not, it stays thrown away */
export type PutBack = (data: unknown, name: string) => Promise<boolean>

/** What was thrown away, or could not be read, and can be had back. */
export const useThrownStore = defineStore('thrown', () => {
  /** the last one first */
  const things = shallowRef<ThrownAway[]>([])
  /** what was just thrown away and is said so, until it is had back or put away */
  const last = ref<{ id: string; name: string } | null>(null)
  let aside = Promise.resolve()

  async function refresh(): Promise<void> {
    things.value = await thrownAway()
  }

  /** @returns its name there */
  async function put(kind: ThrownAway['kind'], name: string, data: unknown): Promise<string> {
    const id = await throwAway(kind, name, data)
    await refresh()
    return id
  }

  /** Puts aside what was kept and can not be read, and says so; once, however often it is come upon (another tab tells of it too). */
  function putAside(name: string, data: unknown, goesOn: string): Promise<void> {
    aside = aside.then(async () => {
      const text = JSON.stringify(data)
      if (!(await thrownAway()).some((t) => t.kind === 'unreadable' && JSON.stringify(t.data) === text))
        await throwAway('unreadable', name, data)
      useRemarkStore().words = `What was kept as ${name} can not be read: ${goesOn}. As it was it is under “Thrown away …”.`
      await refresh()
    })
    return aside
  }

  async function haveBack(id: string, ways: Record<ThrownAway['kind'], PutBack>): Promise<void> {
    const found = await takeBack(id)
    if (last.value?.id === id) last.value = null
    if (found && !(await ways[found.kind](found.data, found.name))) await throwAway(found.kind, found.name, found.data)
    await refresh()
  }

  return { things, last, refresh, put, putAside, haveBack }
})
