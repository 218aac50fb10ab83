/** In one frame so much is drawn at the most, plus whatever was begun: a page of many pictures does not hold up who types. */
const FRAME_MS = 10

const pictures = new Set<() => void>()
const parts = new Set<() => void>()
let asked = 0
/** The frame in which a part asks is not the one in which it comes: what is already there is painted in it. */
let mayCome = false

function frame(): void {
  asked = 0
  const until = performance.now() + FRAME_MS
  for (const draw of pictures) {
    pictures.delete(draw)
    draw()
    if (performance.now() >= until) break
  }
  // What a part costs is seen only after it was let in: one a frame, and none beside pictures that took the frame.
  const [next] = mayCome && performance.now() < until ? parts : []
  if (next) {
    parts.delete(next)
    next()
  }
  mayCome = parts.size > 0
  if (pictures.size + parts.size > 0) ask()
}

function ask(): void {
  if (asked === 0) asked = requestAnimationFrame(frame)
}

/** Draws in one of the next frames, in the order of asking; once, however often it is asked for before that. */
export function drawSoon(draw: () => void): void {
  pictures.add(draw)
  ask()
}

/** Lets a part of a page in, each in a frame of its own, in the order of asking, when the pictures that are there are drawn. */
export function letInSoon(part: () => void): void {
  parts.add(part)
  ask()
}

/** What is not wanted any more is not drawn, and not let in. */
export function neverMind(wanted: () => void): void {
  pictures.delete(wanted)
  parts.delete(wanted)
}

/** What follows is a task of its own. No frame is waited for: a page that is hidden has none. */
export const nextTask = (): Promise<void> => new Promise((next) => setTimeout(next))

let coming: Promise<void> | undefined

/**
 * Until the frame is painted in which what has just changed is seen: what would take a core from it waits so long. Who asks first goes
 * on first. A page that is hidden has no frames, and slow timers: it is not waited for.
 */
export function painted(): Promise<void> {
  return (coming ??= (document.hidden ? Promise.resolve() : framePainted()).then(() => (coming = undefined)))
}

function framePainted(): Promise<void> {
  return new Promise((done) => {
    const late = setTimeout(done, MOST_MS)
    // What is asked for in a frame runs before it is painted; the task after it, behind that.
    requestAnimationFrame(() => {
      clearTimeout(late)
      setTimeout(done)
    })
  })
}

/** A page begins to come within so many frames; one that is hidden has none, and is not waited for. */
const FIRST_FRAMES = 4
const MOST_MS = 600

/** Until what has just changed is drawn, and all that was let in with it. */
export function drawn(): Promise<void> {
  return new Promise((done) => {
    const late = setTimeout(done, MOST_MS)
    const after = (frames: number) => {
      if (frames > 0 || pictures.size + parts.size > 0) return void requestAnimationFrame(() => after(frames - 1))
      clearTimeout(late)
      done()
    }
    after(FIRST_FRAMES)
  })
}

/**
 * What works for a page: each use of it comes behind the picture of what asks for it, and its start behind the page, which few cores
 * would hold up otherwise.
 */
export function behindPictures<T extends object>(start: () => T): () => Promise<T> {
  let [page, started]: [Promise<void> | undefined, T | undefined] = [undefined, undefined]
  return async () => {
    await (page ??= drawn())
    await painted()
    return (started ??= start())
  }
}
