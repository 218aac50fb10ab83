// @vitest-environment happy-dom
import { expect, it } from 'vitest'
import { effectScope, nextTick, shallowRef } from 'vue'
import { useGradually } from './useGradually.ts'

const numbers = (count: number) => Array.from({ length: count }, (_, i) => i)
const frame = () => new Promise((resolve) => requestAnimationFrame(resolve))

/** How many there are at once, and after each frame until it is the whole list. */
async function counts(list: { value: readonly number[] }, shown: Readonly<{ value: readonly number[] }>): Promise<number[]> {
  await nextTick()
  const seen = [shown.value.length]
  for (let n = 0; seen.at(-1) !== list.value.length && n < 100; n++) {
    await frame()
    await nextTick()
    if (shown.value.length !== seen.at(-1)) seen.push(shown.value.length)
  }
  return seen
}

it('comes in steps, from what is there at once, and again when it is another list', async () => {
  const scope = effectScope()
  const [list, order] = [shallowRef(numbers(7)), shallowRef('price')]
  const shown = scope.run(() => useGradually(list, 3, { first: 1, anew: () => order.value }))!
  expect(await counts(list, shown)).toEqual([1, 4, 7])
  list.value = numbers(12)
  expect(await counts(list, shown)).toEqual([7, 10, 12])
  order.value = 'name'
  expect(await counts(list, shown)).toEqual([1, 4, 7, 10, 12])
  scope.stop()
})

it('has what is added at once, where that is wanted, when it was whole', async () => {
  const scope = effectScope()
  const [list, order] = [shallowRef(numbers(7)), shallowRef('price')]
  const shown = scope.run(() => useGradually(list, 3, { anew: () => order.value, once: true }))!
  expect(await counts(list, shown)).toEqual([3, 6, 7])
  list.value = numbers(40)
  expect(await counts(list, shown)).toEqual([40])
  order.value = 'name'
  expect((await counts(list, shown)).slice(0, 3)).toEqual([3, 6, 9])
  scope.stop()
})
