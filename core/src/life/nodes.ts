import { normalQuantile } from '../random/normalQuantile.ts'
import { RandomStream } from '../random/stream.ts'
import type { LossRules, NodeRules, StartRules } from './startRules.ts'

/** One machine (or the machines over which one replica lies) that is rented. */
export interface Node {
  number: number
  state: 'coming' | 'there' | 'noticed' | 'gone'
  /** when what comes next for it comes: ready or notice; Infinity for nothing */
  due: number
  /** when it is lost; Infinity for never */
  lostAt: number
  replicas: number
  /** pulled once, for whoever comes first */
  image: 'none' | 'pulling' | 'there'
  hasWeights: boolean
  /** since when it has no replica; Infinity while it has one */
  emptySince: number
  from: number
  /** NaN while it is there */
  until: number
}

/** The machines of a fleet: ordered when there is room for none, given back when nobody has been on them for a while. */
export class NodePool {
  readonly all: Node[] = []
  private readonly rules: NodeRules
  private readonly start: StartRules
  private readonly losses: LossRules
  private readonly seed: number

  constructor(rules: NodeRules, start: StartRules, losses: LossRules, seed: number) {
    this.rules = rules
    this.start = start
    this.losses = losses
    this.seed = seed
  }

  /** A machine with room: one that is there, else one that comes, else a new one; undefined when no more can be had. */
  withRoom(now: number): Node | undefined {
    const room = (state: Node['state']) => this.all.find((n) => n.state === state && n.replicas < this.rules.replicasPerNode)
    return room('there') ?? room('coming') ?? this.order(now)
  }

  private order(now: number): Node | undefined {
    if (this.all.filter((n) => n.state !== 'gone').length >= this.rules.mostNodes) return undefined
    const number = this.all.length
    const { nodeSeconds, nodeSpread } = this.start
    const random = new RandomStream(this.seed, 'node', String(number))
    const due = now + nodeSeconds * (nodeSpread === 0 ? 1 : Math.exp(nodeSpread * normalQuantile(random.open())))
    const mean = this.losses.nodeMeanSeconds
    const lostAt = mean === Infinity ? Infinity : due - mean * Math.log(random.open())
    const node: Node = { number, state: 'coming', due, lostAt, replicas: 0, image: 'none', hasWeights: false, emptySince: now, from: now, until: NaN }
    this.all.push(node)
    return node
  }

  /** A machine that was ordered is there. */
  arrive(node: Node, now: number): void {
    node.state = 'there'
    node.due = node.lostAt === Infinity ? Infinity : Math.max(now, node.lostAt - this.losses.noticeSeconds)
  }

  take(node: Node): void {
    node.replicas++
    node.emptySince = Infinity
  }

  leave(node: Node | undefined, now: number): void {
    if (node && node.state !== 'gone' && --node.replicas === 0) node.emptySince = now
  }

  end(node: Node, now: number): void {
    node.state = 'gone'
    node.until = now
  }

  /** Gives back whom nobody has been on for the idle time. @returns those */
  settle(now: number): Node[] {
    const idle = this.all.filter((n) => n.state !== 'gone' && n.emptySince + this.rules.idleSeconds <= now)
    for (const n of idle) this.end(n, now)
    return idle
  }

  /** The next change of any machine. */
  next(): number {
    let next = Infinity
    for (const n of this.all) if (n.state !== 'gone') next = Math.min(next, n.due, n.lostAt, n.emptySince + this.rules.idleSeconds)
    return next
  }

  /** Paid time of each, to the end of the run for those that are still there. */
  paid(endSeconds: number): { from: number; until: number }[] {
    return this.all.map((n) => ({ from: n.from, until: Number.isNaN(n.until) ? Math.max(endSeconds, n.from) : n.until }))
  }
}
