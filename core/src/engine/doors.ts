import type { FleetHands, FleetLife } from '../life/fleet.ts'
import type { Floor } from './floor.ts'
import type { Replicas } from './replicas.ts'
import type { Router } from './router.ts'

/** Which replicas of a running simulation take requests: they open, drain and are lost as the fleet says. */
export class Doors implements FleetHands {
  /** replicas that take requests */
  ready = 0
  /** replicas that finish what they have */
  private draining: number[] = []
  private now = 0
  private readonly floor: Floor
  private readonly replicas: Replicas
  private readonly router: Router

  constructor(floor: Floor, replicas: Replicas, router: Router) {
    this.floor = floor
    this.replicas = replicas
    this.router = router
  }

  /** For what happens at a time. */
  at(now: number): this {
    this.now = now
    return this
  }

  open(replica: number): void {
    this.floor.busy.open(replica)
    this.router.open(replica)
    this.ready++
  }

  private close(replica: number): void {
    if (!this.floor.busy.isOpen(replica)) return
    this.floor.busy.close(replica)
    this.router.close(replica)
    this.ready--
  }

  drain(replica: number): void {
    this.close(replica)
    this.draining.push(replica)
  }

  /** What a replica had is lost with it: in service, and in its line. */
  lose(replica: number): void {
    const { floor, now } = this
    this.close(replica)
    this.draining = this.draining.filter((r) => r !== replica)
    const held = this.replicas.dropAll(replica, now)
    while (floor.lines.length[replica] > 0) {
      held.push(floor.lines.shift(replica))
      floor.waiting--
    }
    held.sort((a, b) => a - b)
    for (const request of held) floor.lost(replica, request, now)
  }

  /** Tells which replicas have nothing now, or something again. */
  tellTurned(life: FleetLife, now: number): void {
    const { busy } = this.floor
    const { turned } = busy
    if (turned === undefined || turned.length === 0) return
    for (const replica of turned) life.turned(replica, busy.has(replica) === 0, now)
    turned.length = 0
  }

  /** Tells which of those that drain have nothing left. */
  tellEmptied(life: FleetLife, now: number): void {
    if (this.draining.length === 0) return
    const { busy } = this.floor
    for (const replica of this.draining) if (busy.has(replica) === 0) life.emptied(replica, now)
    this.draining = this.draining.filter((r) => busy.has(r) > 0)
  }
}
