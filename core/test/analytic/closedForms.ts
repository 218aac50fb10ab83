/** Probability that an arrival waits in M/M/c (Erlang C) for offered load a = λ/μ. */
export function erlangC(c: number, a: number): number {
  let term = 1
  let sum = 0
  for (let k = 0; k < c; k++) {
    sum += term
    term *= a / (k + 1)
  }
  const last = term * (c / (c - a))
  return last / (sum + last)
}

/** M/M/c/K with service of mean 1 and offered load a: share of arrivals refused, and mean wait of those let in. */
export function finiteQueue(c: number, k: number, a: number): { refused: number; wait: number } {
  const weight = [1]
  for (let n = 1; n <= k; n++) weight.push((weight[n - 1] * a) / Math.min(n, c))
  const all = weight.reduce((x, y) => x + y, 0)
  const refused = weight[k] / all
  const queued = weight.reduce((sum, w, n) => sum + (Math.max(0, n - c) * w) / all, 0)
  return { refused, wait: queued / (a * (1 - refused)) }
}

/**
 * Mean wait of a server that takes whatever waits, up to b, at once, in constant time d. The number waiting at the ends of
 * service is a Markov chain: X' = max(X − b, 0) + Poisson(λd), or Poisson(λd) after an idle time when X = 0. Between two
 * ends the queue has the area max(X − b, 0)·d + λd²/2; by Little's law its mean over λ is the wait.
 */
export function lateBulkWait(rate: number, d: number, b: number): number {
  const most = 600
  const poisson = [Math.exp(-rate * d)]
  for (let n = 1; n <= most; n++) poisson.push((poisson[n - 1] * rate * d) / n)
  let chance = new Array<number>(most + 1).fill(0)
  chance[0] = 1
  for (let round = 0; round < 4000; round++) {
    const next = new Array<number>(most + 1).fill(0)
    chance.forEach((p, x) => {
      if (p < 1e-18) return
      const left = Math.max(0, x - b)
      for (let n = 0; left + n <= most && n < 120; n++) next[left + n] += p * poisson[n]
    })
    const moved = next.reduce((sum, p, x) => sum + Math.abs(p - chance[x]), 0)
    chance = next
    if (moved < 1e-13) break
  }
  const left = chance.reduce((sum, p, x) => sum + p * Math.max(0, x - b), 0)
  const area = left * d + (rate * d * d) / 2
  return area / (d + chance[0] / rate) / rate
}

/**
 * M/M/1 with service of mean 1 where everybody leaves who has waited τ: the work that an arrival finds has an atom at 0
 * and the density λπ₀·e^{−(1−λ)x} up to τ, λπ₀·e^{λτ}·e^{−x} beyond; who finds more than τ gives up.
 */
export function impatientShare(rho: number, tau: number): number {
  const d = Math.exp(-(1 - rho) * tau)
  return (rho * d * (1 - rho)) / (1 - rho * rho * d)
}

/** Throughput of one server of rate 1 with n clients that each think for an exponential time of rate λ. */
export function repairThroughput(n: number, lambda: number): number {
  let weight = 1
  let all = 1
  for (let k = 1; k <= n; k++) {
    weight *= (n - k + 1) * lambda
    all += weight
  }
  return 1 - 1 / all
}
