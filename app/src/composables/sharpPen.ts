/** A pen for a canvas of so many pixels of the page, emptied and sharp on every screen; undefined where there is none to draw with. */
export function sharpPen(canvas: HTMLCanvasElement | null, width: number, height: number): CanvasRenderingContext2D | undefined {
  const pen = canvas?.getContext('2d')
  if (!canvas || !pen) return undefined
  const ratio = window.devicePixelRatio || 1
  canvas.width = width * ratio
  canvas.height = height * ratio
  pen.scale(ratio, ratio)
  return pen
}
