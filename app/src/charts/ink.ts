import { token } from '../composables/classColour.ts'

/**
 * How a surface is filled: by a token's colour, thinned or not, or by a hatching over the leaf. Hatchings go with hues, so that colour
 * never speaks alone.
 */
export interface Ink {
  colour: string
  alpha?: number
  hatch?: Hatch
  /** the token beneath a hatching; nothing if left out */
  under?: string
}
export type Hatch = 'dots' | 'slant' | 'slant-back' | 'upright' | 'level' | 'dense'

const TILE = 6
/** Strokes of a tile, in its own pixels: from x, from y, to x, to y. What leaves the tile comes in on the other side. */
const STROKES: Record<Exclude<Hatch, 'dots'>, readonly (readonly [number, number, number, number])[]> = {
  slant: [
    [-1, 7, 7, -1],
    [-4, 4, 4, -4],
    [2, 10, 10, 2],
  ],
  'slant-back': [
    [-1, -1, 7, 7],
    [-4, 2, 4, 10],
    [2, -4, 10, 4],
  ],
  upright: [[1, 0, 1, TILE]],
  level: [[0, 1, TILE, 1]],
  dense: [
    [1, 0, 1, TILE],
    [4, 0, 4, TILE],
  ],
}

/** A token's colour as the theme has it, with so much of it. @param name 'var(--water)', '--water', or a colour as it is */
export function colourOf(name: string, alpha = 1): string {
  const bare = name.startsWith('var(') ? name.slice(4, -1) : name
  const colour = bare.startsWith('--') ? token(bare) : bare
  return alpha === 1 || !/^#[0-9a-f]{6}$/i.test(colour)
    ? colour
    : `${colour}${Math.round(alpha * 255)
        .toString(16)
        .padStart(2, '0')}`
}

/** What a canvas fills a surface with, in the theme of now. */
export function fillOf(ink: Ink): string | CanvasPattern {
  return ink.hatch ? hatching(ink) : colourOf(ink.colour, ink.alpha)
}

function hatching({ colour, alpha, hatch, under }: Ink): string | CanvasPattern {
  const ratio = window.devicePixelRatio || 1
  const tile = document.createElement('canvas')
  tile.width = tile.height = TILE * ratio
  const c = tile.getContext('2d')
  if (!c || !hatch) return colourOf(colour, alpha)
  c.scale(ratio, ratio)
  if (under) {
    c.fillStyle = colourOf(under)
    c.fillRect(0, 0, TILE, TILE)
  }
  c.strokeStyle = c.fillStyle = colourOf(colour, alpha)
  c.lineWidth = 1.6
  if (hatch === 'dots') c.fill(dot())
  else for (const [x1, y1, x2, y2] of STROKES[hatch]) stroke(c, x1, y1, x2, y2)
  const pattern = c.createPattern(tile, 'repeat')
  // The picture's own pen is scaled to the screen already.
  pattern?.setTransform(new DOMMatrix().scale(1 / ratio))
  return pattern ?? colourOf(colour, alpha)
}

function dot(): Path2D {
  const path = new Path2D()
  path.arc(TILE / 2, TILE / 2, 1.2, 0, 2 * Math.PI)
  return path
}

function stroke(c: CanvasRenderingContext2D, x1: number, y1: number, x2: number, y2: number): void {
  c.beginPath()
  c.moveTo(x1, y1)
  c.lineTo(x2, y2)
  c.stroke()
}
