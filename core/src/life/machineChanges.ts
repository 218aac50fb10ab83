import type { LossCause } from './cause.ts'
import { Drills } from './drills.ts'
import type { FleetHands } from './fleet.ts'
import type { LivingReplicas } from './livingReplicas.ts'
import type { Node, NodePool } from './nodes.ts'
import { Stage, type LossRules } from './startRules.ts'

/**
 * What happens to the machines of a fleet, and by that to the replicas on them (docs/model.md, 7): they come, are told that they go, and
 * are lost.
 */
export class MachineChanges {
  private readonly nodes: NodePool
  private readonly replicas: LivingReplicas
  private readonly drills: Drills

  constructor(losses: LossRules, nodes: NodePool, replicas: LivingReplicas) {
    this.nodes = nodes
    this.replicas = replicas
    this.drills = new Drills(losses)
  }

  /** When the next of them comes. */
  next(): number {
    return Math.min(this.nodes.next(), this.drills.next())
  }

  happen(now: number, hands: FleetHands): void {
    for (const n of this.nodes.live) {
      if (n.state === 'coming' && n.due <= now) this.arrive(n, now, hands)
      if (n.state === 'there' && n.due <= now) this.giveNotice(n, now, hands)
      if (n.lostAt <= now) this.end(n, now, hands, 'machine-lost')
    }
    this.runDrills(now, hands)
  }

  /** Gives back those that nobody has been on for long enough. @returns whether there were any */
  settle(now: number): boolean {
    const given = this.nodes.settle(now)
    for (const n of given) this.replicas.starts.reads.leave('image', n.number, now)
    return given.length > 0
  }

  private runDrills(now: number, hands: FleetHands): void {
    for (let step = this.drills.takeDue(now); step; step = this.drills.takeDue(now)) {
      const { what, number, lostAt } = step
      if (what === 'replica' && number < this.replicas.slots.length) this.replicas.lose(number, now, hands, 'drill')
      const node = what === 'replica' ? undefined : this.nodes.all.at(number)
      if (what === 'notice' && node?.state === 'there') {
        node.lostAt = Math.min(node.lostAt, lostAt)
        this.giveNotice(node, now, hands)
      }
      if (what === 'node' && node) this.end(node, now, hands, 'drill')
    }
  }

  private arrive(n: Node, now: number, hands: FleetHands): void {
    this.nodes.arrive(n, now)
    this.replicas.slots.forEach((s, r) => {
      if (s.node === n.number && s.stage === Stage.machine) this.replicas.starts.enter(r, Stage.image, now, hands)
    })
  }

  /** A machine that was told it goes: its replicas drain, or give their start-up up, and others are asked for. */
  private giveNotice(n: Node, now: number, hands: FleetHands): void {
    n.state = 'noticed'
    n.due = Infinity
    this.replicas.leaveMachine(n.number, n.lostAt, now, hands)
  }

  private end(n: Node, now: number, hands: FleetHands, cause: LossCause): void {
    if (n.state === 'gone') return
    this.replicas.loseOfMachine(n.number, now, hands, cause)
    this.replicas.starts.reads.leave('image', n.number, now)
    this.nodes.end(n, now)
  }
}
