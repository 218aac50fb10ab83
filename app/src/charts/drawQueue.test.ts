// @vitest-environment happy-dom
import { expect, it } from 'vitest'
import { drawSoon, neverMind } from './drawQueue.ts'

const frame = () => new Promise((next) => requestAnimationFrame(next))
const busy = (ms: number) => {
  const until = performance.now() + ms
  while (performance.now() < until);
}

it('draws everything once and in order, over as many frames as it takes, and not what is not wanted any more', async () => {
  const drawn: string[] = []
  const [first, long, last, never] = ['first', 'long', 'last', 'never'].map((name) => () => {
    drawn.push(name)
    if (name === 'long') busy(30)
  })
  for (const draw of [first, long, last, never, first]) drawSoon(draw)
  neverMind(never)
  await frame()
  expect(drawn).toEqual(['first', 'long'])
  await expect.poll(() => drawn).toEqual(['first', 'long', 'last'])
})
