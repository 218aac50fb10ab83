import * as z from 'zod'

const doubt = (of: string) =>
  z.number().min(0).max(1).optional().describe(`of ${of}: in 95 of 100 worlds they are off by a factor of at most 1 + this`)

/** How unsure what a plan states is. */
export const DoubtSchema = z.strictObject({
  derived: doubt('step costs that are derived, of each machine its bandwidth, its arithmetic and the launch of a step; 0.15 if left out'),
  typed: doubt('step costs that are typed in, or fitted to a load test; 0.15 if left out'),
  startUp: doubt('stages of a start-up, each by itself; 0.15 if left out'),
  load: doubt('the load as a whole; 0 if left out'),
})

export type StatedDoubt = z.infer<typeof DoubtSchema>
