import { expect, it } from 'vitest'
import { Batching } from '../examples/realModel/batching.ts'
import { Network } from '../examples/realModel/network.ts'

it('the network that is measured writes what it would if it read all of it anew, alone or beside others', async () => {
  const network = await Network.made(7)
  const prompt = (of: number) => Array.from({ length: 9 + of }, (_, i) => (37 * i + 11 * of) % 1024)
  const anew = async (read: number[], count: number): Promise<number[]> => {
    const made: number[] = []
    while (made.length < count) made.push((await network.prefill([...read, ...made])).token)
    return made
  }
  const batching = new Batching(network, 2)
  const asked = await Promise.all(
    [0, 1, 2].map(async (of) => {
      const told: number[] = []
      await batching.ask(prompt(of), 6, (token) => told.push(token))
      return told
    }),
  )
  expect(asked).toEqual(await Promise.all([0, 1, 2].map((of) => anew(prompt(of), 6))))
  expect(new Set(asked.flat()).size).toBeGreaterThan(3)
})
