// @vitest-environment happy-dom
import { expect, it, vi } from 'vitest'
import { behindPictures, drawSoon, letInSoon, neverMind, painted } from './frames.ts'

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

it('lets parts in one a frame, in order, each after the pictures that were there', async () => {
  const seen: string[] = []
  const see = (what: string) => () => void seen.push(what)
  const never = see('never')
  letInSoon(() => {
    seen.push('upper')
    drawSoon(see('picture of the upper'))
  })
  letInSoon(never)
  letInSoon(see('lower'))
  drawSoon(see('picture'))
  neverMind(never)
  await frame()
  expect(seen).toEqual(['picture'])
  await frame()
  expect(seen).toEqual(['picture', 'upper'])
  await frame()
  expect(seen).toEqual(['picture', 'upper', 'picture of the upper', 'lower'])
})

it('lets those who wait for a picture go on in a task behind its frame, and those of its parts, first come first; where there are no frames nobody waits', async () => {
  const seen: string[] = []
  const wait = async (name: string) => {
    await painted()
    seen.push(name)
  }
  const both = [wait('first'), wait('second')]
  drawSoon(() => void seen.push('picture'))
  await frame()
  expect(seen).toEqual(['picture'])
  await Promise.all(both)
  expect(seen).toEqual(['picture', 'first', 'second'])
  const third = wait('third')
  letInSoon(() => {
    seen.push('part')
    letInSoon(() => void seen.push('part of the part'))
  })
  await third
  expect(seen.slice(3)).toEqual(['part', 'part of the part', 'third'])
  vi.stubGlobal('requestAnimationFrame', () => 0)
  vi.spyOn(document, 'hidden', 'get').mockReturnValue(true)
  vi.useFakeTimers()
  await painted()
  vi.useRealTimers()
  vi.unstubAllGlobals()
  vi.restoreAllMocks()
})

it('starts what works behind the page once, when its parts are there, and asks it in order, each behind what the answer before changed', async () => {
  const seen: string[] = []
  const ask = behindPictures(() => ({ started: seen.push('started') }))
  const question = (name: string) =>
    ask(async () => {
      seen.push(name)
      await frame()
      if (name === 'second') throw new Error('none')
      return name
    }).then(
      (told) => letInSoon(() => void seen.push(`part of ${told}`)),
      () => void seen.push('no answer'),
    )
  letInSoon(() => void seen.push('part'))
  await Promise.all(['first', 'second', 'third'].map(question))
  await ask(() => Promise.resolve())
  expect(seen).toEqual(['part', 'started', 'first', 'part of first', 'second', 'no answer', 'third', 'part of third'])
})
