/** Shifts of more entries than this are left to the typed arrays' own move. */
const LONG_SHIFT = 24
/** Entries beyond its capacity that a line may reach before it is moved back. */
const SPARE = 16

/**
 * For every replica what it has in service, in order of the mark at which it finishes (a count of decode steps, or virtual
 * time), ties by request. Flat arrays: each replica has room for twice its capacity, so that taking from the front only
 * moves the front, and the line is moved back to the start of its room once in as many takes. Newcomers mostly finish
 * last: they are put in from the back, which for the sizes of batches is less work than a heap.
 */
export class FinishLines {
  readonly size: Int32Array
  /** counts of steps outgrow 32 bits when steps are very short */
  private readonly mark: Float64Array
  private readonly request: Int32Array
  /** place of the first entry of each replica */
  private readonly front: Int32Array
  private readonly room: number

  constructor(replicas: number, capacity: number) {
    this.room = capacity + SPARE
    this.size = new Int32Array(replicas)
    this.mark = new Float64Array(replicas * this.room)
    this.request = new Int32Array(replicas * this.room)
    this.front = Int32Array.from({ length: replicas }, (_, r) => r * this.room)
  }

  /** the mark at which the next one finishes; the line must not be empty */
  firstMark(replica: number): number {
    return this.mark[this.front[replica]]
  }

  push(replica: number, mark: number, request: number): void {
    const { mark: marks, request: requests } = this
    const size = this.size[replica]++
    let front = this.front[replica]
    if (front + size >= (replica + 1) * this.room) front = this.moveBack(replica, size)
    let place = front + size
    if (size > LONG_SHIFT) place = this.makePlace(front, size, mark, request)
    else {
      while (place > front && (marks[place - 1] > mark || (marks[place - 1] === mark && requests[place - 1] > request))) {
        marks[place] = marks[place - 1]
        requests[place] = requests[place - 1]
        place--
      }
    }
    marks[place] = mark
    requests[place] = request
  }

  /** Takes out the one that finishes first and gives its request. */
  pop(replica: number): number {
    const request = this.request[this.front[replica]++]
    // An empty line begins again at the start of its room, which is in the processor's cache.
    if (--this.size[replica] === 0) this.front[replica] = replica * this.room
    return request
  }

  /** Place of the one with the largest stamp, and so the last one stamped; the line must not be empty. */
  latest(replica: number, stamp: Int32Array): number {
    let best = 0
    for (let i = 1; i < this.size[replica]; i++) if (stamp[this.requestAt(replica, i)] > stamp[this.requestAt(replica, best)]) best = i
    return best
  }

  /** The request and the mark at a place, counted from the front. */
  requestAt(replica: number, place: number): number {
    return this.request[this.front[replica] + place]
  }

  markAt(replica: number, place: number): number {
    return this.mark[this.front[replica] + place]
  }

  /** Takes out whoever is at a place, counted from the front. */
  removeAt(replica: number, place: number): void {
    const front = this.front[replica]
    const end = front + this.size[replica]--
    this.mark.copyWithin(front + place, front + place + 1, end)
    this.request.copyWithin(front + place, front + place + 1, end)
  }

  /** Moves the line to the start of its room, and says where that is. */
  private moveBack(replica: number, size: number): number {
    const to = replica * this.room
    const from = this.front[replica]
    this.mark.copyWithin(to, from, from + size)
    this.request.copyWithin(to, from, from + size)
    this.front[replica] = to
    return to
  }

  /** Finds the place of a new entry in a long line by halving, and shifts those behind it. */
  private makePlace(front: number, size: number, mark: number, request: number): number {
    const { mark: marks, request: requests } = this
    let low = front
    let high = front + size
    while (low < high) {
      const middle = (low + high) >> 1
      if (marks[middle] < mark || (marks[middle] === mark && requests[middle] < request)) low = middle + 1
      else high = middle
    }
    marks.copyWithin(low + 1, low, front + size)
    requests.copyWithin(low + 1, low, front + size)
    return low
  }
}
