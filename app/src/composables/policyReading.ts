import { METRICS, percent, threeDigits, type ScalingPolicy } from '@sandclock/core'

/** What the first metric of a policy reads and aims at; null where it reads none. */
export function policyReading(policy: ScalingPolicy | null): { name: string; target: number; show: (value: number) => string } | null {
  const first = policy?.metrics?.[0]
  if (!first) return null
  const { read, isShare } = METRICS[first.metric]
  return {
    name: read,
    target: first.target,
    show: isShare ? percent : first.metric === 'arrivals' ? (v) => `${threeDigits(v)} /s` : threeDigits,
  }
}
