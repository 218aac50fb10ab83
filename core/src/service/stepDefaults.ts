/**
 * Prompt tokens of a prefill step, and the token budget of a step that prompts share with decoding, where a plan does not say
 * (docs/model.md, 4).
 */
export const DEFAULT_PREFILL_TOKENS = 8192
export const DEFAULT_STEP_TOKENS = 2048
