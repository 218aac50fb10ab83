/** In one frame so much is drawn at the most, plus whatever was begun: a page of many pictures does not hold up who types. */
const FRAME_MS = 10

const waiting = new Set<() => void>()
let asked = 0

function drawSome(): void {
  asked = 0
  const until = performance.now() + FRAME_MS
  for (const draw of waiting) {
    waiting.delete(draw)
    draw()
    if (performance.now() >= until) break
  }
  if (waiting.size > 0) ask()
}

function ask(): void {
  if (asked === 0) asked = requestAnimationFrame(drawSome)
}

/** Draws in one of the next frames, in the order of asking; once, however often it is asked for before that. */
export function drawSoon(draw: () => void): void {
  waiting.add(draw)
  ask()
}

/** What is not wanted any more is not drawn. */
export function neverMind(draw: () => void): void {
  waiting.delete(draw)
}
