import { begunYaml, figuresOf, OPENINGS, waysOf } from '@sandclock/core'
import { machines } from './catalogue.ts'

/** Every opening as `sandclock begin --like NAME` writes it, by name. */
export const openingFiles = (): [string, string][] =>
  waysOf(OPENINGS).map((name) => [name, begunYaml(figuresOf(name), machines, 'EUR').text])
