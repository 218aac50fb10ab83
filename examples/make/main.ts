import { planJsonSchema, writePlan } from '@sandclock/core'
import { writeFileSync } from 'node:fs'
import { gzipSync } from 'node:zlib'
import { exampleLog } from './log.ts'
import { oneConfiguration } from './oneConfiguration.ts'
import { skerrySound } from './skerrySound.ts'

/** Writes every made file of the repository that is derived from code; run from the root of the project. */
writeFileSync('examples/skerry-sound.json', writePlan(skerrySound))
writeFileSync('examples/one-configuration.json', writePlan(oneConfiguration))
writeFileSync('examples/skerry-sound-log.csv.gz', gzipSync(exampleLog(), { level: 9 }))
writeFileSync('docs/plan.schema.json', `${JSON.stringify(planJsonSchema(), null, 2)}\n`)
