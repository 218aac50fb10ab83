import { writePlan, type Plan } from '@sandclock/core'
import { nanoid } from 'nanoid'
import { forgetNote, savePlan, type StoredPlan } from './database.ts'

/** Saves one state of the open plan after another, each only if nobody else saved it meanwhile. */
export class PlanKeeper {
  /** of the open plan, and of its last saved state */
  id = ''
  revision = 0
  private saving: Promise<unknown> = Promise.resolve()
  private readonly now: () => Plan

  /** @param now the open plan as it is when it is asked for */
  constructor(now: () => Plan) {
    this.now = now
  }

  /** Another plan is the open one: a new one, if none is named. */
  open({ id, revision }: Pick<StoredPlan, 'id' | 'revision'> = { id: nanoid(), revision: 0 }): void {
    this.id = id
    this.revision = revision
  }

  /** Waits until everything is saved that was to be, also what comes meanwhile: then another plan may be opened. */
  async settled(): Promise<void> {
    let waited
    do {
      waited = this.saving
      await waited
    } while (waited !== this.saving)
  }

  /**
   * Saves the open plan as it is once those before it are saved.
   *
   * @param copied gets the copy in which this tab goes on, where another tab saved the plan meanwhile: both are kept
   */
  save(copied: (copy: Plan, id: string) => void): Promise<void> {
    const saved = this.saving.then(async () => {
      const revision = await this.put(this.now(), this.revision)
      if (revision === undefined) await this.saveCopy(copied)
      else this.revision = revision
    })
    this.saving = saved.catch(() => undefined) // told to who asked for it
    return saved
  }

  private async saveCopy(copied: (copy: Plan, id: string) => void): Promise<void> {
    const [now, left] = [this.now(), this.id]
    const copy = { ...now, name: `${now.name.slice(0, 60)} (this tab)` }
    this.open()
    copied(copy, this.id)
    this.revision = (await this.put(copy, 0)) ?? 0
    // Else the next start would keep the same edit a second time, as one that was left behind.
    await forgetNote(left, writePlan(now))
  }

  private put(plan: Plan, revision: number): Promise<number | undefined> {
    return savePlan({ id: this.id, name: plan.name, text: writePlan(plan) }, revision)
  }
}
