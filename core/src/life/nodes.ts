import { exp, ln } from '../arithmetic/sameBits.ts'
import { normalQuantile } from '../random/normalQuantile.ts'
import { RandomStream } from '../random/stream.ts'
import type { LifeRecord, LossRules, NodeRules, StartRules } from './startRules.ts'

/** One machine (or the machines over which one replica lies) that is rented. */
export interface Node {
  number: number
  state: 'coming' | 'there' | 'noticed' | 'gone'
  /** when what comes next for it comes: ready or notice; Infinity for nothing */
  due: number
  /** when it is lost; Infinity for never */
  lostAt: number
  /** may be taken away */
  spot: boolean
  replicas: number
  /** pulled once, for whoever comes first */
  image: 'none' | 'pulling' | 'there'
  hasWeights: boolean
  /** somebody has warmed up on it: what of that is kept need not be done again */
  isWarm: boolean
  /** copies on it whose model was unloaded: they only load it again */
  unloaded: number
  /** since when it has no replica; Infinity while it has one */
  emptySince: number
  from: number
  /** NaN while it is there */
  until: number
}

/** The disk of a machine that is stopped, or was, with what was left on it. */
interface Disk {
  from: number
  until: number
  hasImage: boolean
  hasWeights: boolean
  isWarm: boolean
}

/** The machines of a fleet: ordered when there is room for none, given back when nobody has been on them for a while. */
export class NodePool {
  readonly all: Node[] = []
  /** those that are not gone, in order: over a long time most are */
  live: Node[] = []
  /** disks of nodes that are stopped, or were: until is NaN while one waits */
  readonly disks: Disk[] = []
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

  /** So many machines that were stopped before the start, each with its image and its weights. */
  stopped(count: number): void {
    for (let i = 0; i < Math.min(count, this.rules.mostNodes); i++)
      this.disks.push({ from: 0, until: NaN, hasImage: true, hasWeights: true, isWarm: true })
  }

  /** So many machines that are there from the start, each with copies whose model is unloaded. */
  unloaded(count: number): void {
    for (let i = 0; i < Math.min(count, this.rules.mostNodes); i++) {
      const node = this.made(0, 0, this.randomOf(this.all.length))
      node.image = 'there'
      node.hasWeights = node.isWarm = true
      node.unloaded = this.rules.replicasPerNode
      this.arrive(node, 0)
    }
  }

  /** A machine with room that is there from the start, ready to serve; undefined when no more can be had. */
  running(): Node | undefined {
    const room = this.live.find((n) => n.replicas < this.rules.replicasPerNode)
    if (room || this.live.length >= this.rules.mostNodes) return room
    const node = this.made(0, 0, this.randomOf(this.all.length))
    node.image = 'there'
    node.hasWeights = node.isWarm = true
    this.arrive(node, 0)
    return node
  }

  /** A machine with room: one that is there, else one that comes, else a new one; undefined when no more can be had. */
  withRoom(now: number): Node | undefined {
    const room = (state: Node['state']) => this.live.find((n) => n.state === state && n.replicas < this.rules.replicasPerNode)
    return room('there') ?? room('coming') ?? this.order(now)
  }

  private order(now: number): Node | undefined {
    if (this.live.length >= this.rules.mostNodes) return undefined
    const number = this.all.length
    const { nodeSeconds, nodeSpread, resumeSeconds } = this.start
    const disk = this.disks.find((d) => Number.isNaN(d.until))
    if (disk) disk.until = now
    const random = this.randomOf(number)
    const fresh = nodeSpread === 0 ? nodeSeconds : nodeSeconds * exp(nodeSpread * normalQuantile(random.open()))
    const from = now + this.failedAttempts(number) * this.start.retrySeconds
    const due = from + (disk ? resumeSeconds : fresh)
    const node = this.made(from, due, random)
    if (disk) {
      node.image = disk.hasImage ? 'there' : 'none'
      node.hasWeights = disk.hasWeights
      node.isWarm = disk.isWarm
    }
    return node
  }

  private randomOf(number: number): RandomStream {
    return new RandomStream(this.seed, 'node', String(number))
  }

  /** A machine that is paid from one time on and there from another. */
  private made(from: number, due: number, random: RandomStream): Node {
    const spot = this.live.filter((n) => !n.spot).length >= this.rules.safeNodes
    const mean = this.meanSeconds(spot)
    const number = this.all.length
    const lostAt = mean === Infinity ? Infinity : due - mean * ln(random.open())
    const node: Node = {
      number,
      state: 'coming',
      due,
      lostAt,
      spot,
      replicas: 0,
      image: 'none',
      hasWeights: false,
      isWarm: false,
      unloaded: 0,
      emptySince: from,
      from,
      until: NaN,
    }
    this.all.push(node)
    this.live.push(node)
    return node
  }

  /** Attempts to get a machine before the one that succeeds: what they take is not paid. */
  private failedAttempts(number: number): number {
    const { availability } = this.start
    if (availability === 1) return 0
    return Math.floor(ln(new RandomStream(this.seed, 'attempts', String(number)).open()) / ln(1 - availability))
  }

  /** Two things that come at random times each, whichever is first: their rates add up. */
  private meanSeconds(spot: boolean): number {
    const { nodeMeanSeconds, spotMeanSeconds } = this.losses
    return spot ? 1 / (1 / nodeMeanSeconds + 1 / spotMeanSeconds) : nodeMeanSeconds
  }

  /** A machine that was ordered is there. */
  arrive(node: Node, now: number): void {
    node.state = 'there'
    node.due =
      node.lostAt === Infinity
        ? Infinity
        : Math.max(now, node.lostAt - (node.spot ? this.losses.spotNoticeSeconds : this.losses.noticeSeconds))
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
    // Who is sent home before any attempt succeeded was never there.
    node.until = Math.max(now, node.from)
    this.live = this.live.filter((n) => n !== node)
  }

  /** Gives back whom nobody has been on for the idle time. @returns those */
  settle(now: number): Node[] {
    const idle = this.live.filter((n) => n.emptySince + this.rules.idleSeconds <= now)
    const cameBefore = new Set(idle.filter((n) => n.state !== 'coming'))
    for (const n of idle) {
      this.end(n, now)
      // Who was sent home before it came was never there to be stopped.
      if (this.rules.stops && cameBefore.has(n))
        this.disks.push({ from: now, until: NaN, hasImage: n.image === 'there', hasWeights: n.hasWeights, isWarm: n.isWarm })
    }
    return idle
  }

  /** The next change of any machine. */
  next(): number {
    let next = Infinity
    for (const n of this.live) next = Math.min(next, n.due, n.lostAt, n.emptySince + this.rules.idleSeconds)
    return next
  }

  /** Paid time of each, to the end of the run for those that are still there. */
  paid(endSeconds: number): LifeRecord['nodes'] {
    return this.all.map(({ from, until, spot }) => ({ ...closedAt({ from, until }, endSeconds), spot }))
  }

  /** The same of the disks of stopped machines. */
  stoppedDisks(endSeconds: number): LifeRecord['stopped'] {
    return this.disks.map((d) => closedAt(d, endSeconds))
  }
}

const closedAt = ({ from, until }: { from: number; until: number }, end: number) => ({
  from,
  until: Number.isNaN(until) ? Math.max(end, from) : until,
})
