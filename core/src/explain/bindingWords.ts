import type { BindingPart } from '../search/binding.ts'
import { percent } from '../units/number.ts'
import { LIMIT_WORDS } from './limitWords.ts'

/** What gives way, as the rest of a sentence after "because". @example 'late requests wait 83 % of their time for a start-up' */
export function bindingWords(binding: BindingPart): string {
  const wait = `late requests wait ${percent(binding.share)} of their time`
  switch (binding.part) {
    case 'machines that come':
      return `${wait} for machines that are on their way`
    case 'start-up':
      return `${wait} for a start-up: image, weights, load and warm-up are slower than the load rises`
    case 'maximum':
      return `${wait} while all ${binding.replicas} replicas are there that ${LIMIT_WORDS[binding.limitedBy].who} lets there be`
    case 'policy':
      return `${wait} while the policy asks for only ${binding.wanted} of the ${binding.most} replicas that there may be`
    case 'cache':
      return `${wait} for room in caches that are ${percent(binding.used)} full: memory binds`
    case 'sequence limit':
      return `${wait} because as many are served side by side as may be`
    case 'replicas':
      return `${wait} for replicas that are ${percent(binding.used)} busy`
    case 'bandwidth':
      return `late requests are in service for ${percent(binding.share)} of their time, at the pace at which memory is read: bandwidth binds`
    case 'arithmetic':
      return `late requests are in service for ${percent(binding.share)} of their time, at the pace of the arithmetic`
    case 'own work':
      return `late requests are in service for ${percent(binding.share)} of their time: their own work, and what is served beside it`
  }
}
