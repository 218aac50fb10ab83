import { percent, threeDigits, type ScalingPolicy } from '@sandclock/core'

type Metric = NonNullable<ScalingPolicy['metrics']>[number]['metric']

const NAMES: Record<Metric, string> = { 'in-flight': 'in flight, a copy', busy: 'busy, a copy', arrivals: 'arrivals, a copy', waiting: 'waiting, a copy', 'host-cpu': 'host CPU' }
const SHOW: Record<Metric, (value: number) => string> = { 'in-flight': threeDigits, busy: percent, arrivals: (v) => `${threeDigits(v)} /s`, waiting: threeDigits, 'host-cpu': percent }

/** What the first metric of a policy reads and aims at; null where it reads none. */
export function policyReading(policy: ScalingPolicy | null): { name: string; target: number; show: (value: number) => string } | null {
  const metric = policy?.metrics?.[0]
  return metric ? { name: NAMES[metric.metric], target: metric.target, show: SHOW[metric.metric] } : null
}
