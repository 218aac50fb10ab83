import { BadInput } from '@sandclock/core'

/** How a command says that something it was given can not be: what, and by which rule. @param title what does not come of it, a sentence */
export const refusing =
  (title: string) =>
  (path: string, rule: string, found?: string): BadInput =>
    new BadInput(title, [{ path, ...(found !== undefined && { found }), rule }])
