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

/** A frame that is not painted by then is not waited for: a page that is hidden has none. */
const MOST_MS = 600

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

/** So many frames, and as many more as it takes until nothing is to come in one. */
async function framesPainted(least: number): Promise<void> {
  const until = performance.now() + MOST_MS
  for (let n = 0; (n < least || pictures.size + parts.size > 0) && performance.now() < until; n++) await framePainted()
}

let coming: Promise<void> | undefined

/**
 * Until what has just changed is seen, with the parts and pictures that come with it: what would take a core from them waits so long. Who
 * asks first goes on first. A page that is hidden has no frames, and slow timers: it is not waited for.
 */
export function painted(): Promise<void> {
  return (coming ??= (document.hidden ? Promise.resolve() : framesPainted(1)).then(() => (coming = undefined)))
}

/** A page begins to come within so many frames. */
const FIRST_FRAMES = 4

/** Until what has just changed is drawn, and all that was let in with it. */
export const drawn = (): Promise<void> => framesPainted(FIRST_FRAMES)

/**
 * What works for a page, one question after the other: each comes behind the picture of what asks it and of what the one before changed,
 * and its start behind the page. Few cores would hold these up otherwise.
 */
export function behindPictures<T extends object>(start: () => T): <R>(question: (worker: T) => Promise<R>) => Promise<R> {
  let [page, started]: [Promise<void> | undefined, T | undefined] = [undefined, undefined]
  let before: Promise<unknown> = Promise.resolve()
  return (question) => {
    const answer = before.then(async () => {
      await (page ??= drawn())
      await painted()
      return question((started ??= start()))
    })
    before = answer.catch(() => undefined) // told to who asked it
    return answer
  }
}
