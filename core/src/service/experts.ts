import type { ExpertsModel, TokenModel } from '../plan/schema.ts'

/** How the parameters of a mixture of experts divide. */
export interface ExpertSplit {
  /** passed by every token: attention, embeddings, what all experts share */
  sharedParameters: number
  /** all experts of all layers together */
  expertParameters: number
}

/**
 * From total P and active A, of E experts k of which take a token: A = shared + k/E·experts and P = shared + experts, so
 * experts = (P − A)/(1 − k/E).
 */
export function expertSplit({
  parameters,
  activeParameters,
  experts,
  expertsPerToken,
}: Pick<ExpertsModel, 'parameters' | 'activeParameters' | 'experts' | 'expertsPerToken'>): ExpertSplit {
  const expertParameters = experts === expertsPerToken ? 0 : (parameters - activeParameters) / (1 - expertsPerToken / experts)
  return { expertParameters, sharedParameters: parameters - expertParameters }
}

/**
 * Expected share of a layer's experts that n tokens hit when each picks k of E independently and evenly: 1 − (1 − k/E)ⁿ,
 * for n = 0…most. Real routers are uneven and hit fewer: this is the side of caution for reading weights.
 */
export function expertShares(experts: number, expertsPerToken: number, most: number): Float64Array {
  const shares = new Float64Array(most + 1)
  let missed = 1
  for (let n = 1; n <= most; n++) {
    missed *= 1 - expertsPerToken / experts
    shares[n] = 1 - missed
  }
  return shares
}

/** Parameters that a step of n = 0…most tokens reads: all of a dense model, shared ones and the experts hit of others. */
export function parametersTouched(model: TokenModel, most: number): Float64Array {
  if (model.kind === 'dense') return new Float64Array(most + 1).fill(model.parameters)
  const { sharedParameters, expertParameters } = expertSplit(model)
  return expertShares(model.experts, model.expertsPerToken, most).map((s) => sharedParameters + expertParameters * s)
}

/** Parameters that reckon for one token. */
export function activeParameters(model: TokenModel): number {
  return model.kind === 'dense' ? model.parameters : model.activeParameters
}
