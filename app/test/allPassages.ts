import type { Plan } from '@sandclock/core'
import type { VueWrapper } from '@vue/test-utils'
import { passagesOf } from '../src/components/sentence/passages.ts'

export const frame = () => new Promise((done) => requestAnimationFrame(done))

/** The sentence of a plan when the last of its passages has come; they come one a frame. */
export async function allPassages<T extends VueWrapper>(wrapper: T, plan: Plan): Promise<T> {
  for (const { length } = passagesOf(plan); wrapper.findAll('[data-passage]').length < length; await frame());
  return wrapper
}
