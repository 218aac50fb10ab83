/** The number of a job whose steps are of a kind. */
export type Job<T> = number & { readonly of?: T }

/** Numbers are not used twice, so that who goes on with a job of another plan goes on with none. */
let last = 0

/** Work that goes on a step at a time, so that other questions are answered in between; one of each kind. */
export class Jobs {
  private readonly byKind = new Map<string, { number: number; steps: Generator<object, object | undefined> }>()

  /** Begins a job; the one before of its kind is given up. @returns the number to go on with */
  begin<T extends object>(kind: string, steps: Generator<T, T | undefined>): Job<T> {
    this.byKind.set(kind, { number: ++last, steps })
    return last
  }

  /** One step further; undefined when another of the same kind was begun meanwhile, or it was done before. */
  advance<T extends object>(number: Job<T>): (T & { done: boolean }) | undefined {
    const job = [...this.byKind.values()].find((j) => j.number === number)
    if (!job) return undefined
    const step = job.steps.next()
    return step.value && { ...(step.value as T), done: step.done ?? false } // the number knows of what kind they are
  }
}
