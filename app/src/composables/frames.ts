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
