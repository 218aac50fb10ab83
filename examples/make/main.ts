import { checkPlan, howToAskJsonSchema, planJsonSchema, writeCatalogue, writePlan, type Plan } from '@sandclock/core'
import { writeFileSync } from 'node:fs'
import { gzipSync } from 'node:zlib'
import { byTokens } from './byTokens.ts'
import { machines } from './catalogue.ts'
import { loadTestTable } from './loadTest.ts'
import { happenedExample } from './happened.ts'
import { exampleHistory } from './history.ts'
import { exampleLog } from './log.ts'
import { measuredExample } from './measured.ts'
import { oneConfiguration } from './oneConfiguration.ts'
import { skerrySound } from './skerrySound.ts'
import { openingFiles } from './openings.ts'
import { startLog } from './startLog.ts'
import { waysPage } from './waysPage.ts'

/** A published shape file of the demo's mixture of experts: it lacks its count of parameters and of key-value heads' size. */
const avocetShape = {
  name: 'Avocet 8×6B',
  vocab_size: 32_000,
  hidden_size: 4096,
  num_hidden_layers: 32,
  num_attention_heads: 32,
  num_key_value_heads: 8,
  intermediate_size: 11_520,
  num_local_experts: 8,
  num_experts_per_tok: 2,
  tie_word_embeddings: false,
  max_position_embeddings: 32_768,
}

/** A plan in the order in which plans are written, so that who opens it need not put it into that. */
const written = (plan: Plan) => writePlan(checkPlan(plan))

/** Writes every made file of the repository that is derived from code; run from the root of the project. */
writeFileSync('examples/skerry-sound.json', written(skerrySound))
writeFileSync('examples/one-configuration.json', written(oneConfiguration))
writeFileSync('examples/tokens-or-machines.json', written(byTokens))
writeFileSync('examples/skerry-sound-log.csv.gz', gzipSync(exampleLog(), { level: 9 }))
writeFileSync('examples/skerry-sound-history.json', exampleHistory())
writeFileSync('examples/harbour-market.csv', writeCatalogue(machines, 'csv'))
writeFileSync('examples/harbour-market.yaml', writeCatalogue(machines, 'yaml'))
writeFileSync('examples/curlew-load-test.csv', loadTestTable())
writeFileSync('examples/curlew-measured.csv', measuredExample())
writeFileSync('examples/one-configuration-happened.csv.gz', gzipSync(happenedExample(), { level: 9 }))
writeFileSync('examples/skerry-sound-starts.csv', startLog())
writeFileSync('examples/avocet-shape.json', `${JSON.stringify(avocetShape, null, 2)}\n`)
for (const [name, text] of openingFiles()) writeFileSync(`examples/openings/${name}.yaml`, text)
writeFileSync('docs/ways.md', waysPage())
writeFileSync('docs/how-to-ask.schema.json', `${JSON.stringify(howToAskJsonSchema(), null, 2)}\n`)
writeFileSync('docs/plan.schema.json', `${JSON.stringify(planJsonSchema(), null, 2)}\n`)
