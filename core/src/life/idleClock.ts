import type { Controller } from './controller.ts'

/**
 * When a service that nobody is in is sent to sleep (docs/model.md, 7): so long after its last request, or after it was ready to take one.
 * Calls that keep it awake begin the wait anew, a window of the schedule stops it.
 */
export class IdleClock {
  private readonly controller: Controller
  /** since when nobody is in the service; Infinity while somebody is */
  private since = 0
  private readAt = 0
  /** a window of the schedule keeps a service awake that would sleep */
  private keptAwake = false
  private call: number

  constructor(controller: Controller) {
    this.controller = controller
    this.call = controller.nextPing(0)
  }

  somebodyCame(): void {
    this.since = Infinity
  }

  nobodyIsThere(now: number): void {
    if (this.since === Infinity) this.since = now
  }

  /** Who waits for sleep waits from now on. */
  beginAnew(now: number): void {
    if (this.since !== Infinity) this.since = now
  }

  /** The scaler reads. @returns replicas that a window of the schedule keeps awake; 0 for none */
  read(now: number): number {
    this.readAt = now
    const scheduled = (this.controller.idle && this.controller.scheduled?.(now)) ?? 0
    this.keptAwake = scheduled > 0
    return scheduled
  }

  /** When it is sent to sleep; Infinity for never. Who is woken is not sent to sleep before anybody was ready. */
  end(wanted: number, ready: number): number {
    const { idle } = this.controller
    if (!idle || wanted === 0 || ready === 0 || this.keptAwake) return Infinity
    // A window that kept it awake ends with a reading.
    return Math.max(this.since + idle.seconds, this.readAt)
  }

  /** When the next call comes that keeps it awake; Infinity for never. */
  nextCall(): number {
    return this.call
  }

  /** Whether such a call comes now; it is taken. */
  takeCall(now: number): boolean {
    if (this.call > now) return false
    this.beginAnew(now)
    this.call = this.controller.nextPing(now)
    return true
  }
}
