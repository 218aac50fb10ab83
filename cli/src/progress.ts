/** Says something on standard error, where it can not disturb what a program reads. */
export function note(text: string): void {
  process.stderr.write(`${text}\n`)
}

const WIDTH = 100

/** A line on standard error that is written over while work goes on; plain lines, seldom, where that is no terminal. */
export class ProgressLine {
  private readonly live = process.stderr.isTTY
  private last = 0

  show(text: string): void {
    const now = performance.now()
    if (now - this.last < (this.live ? 100 : 2000)) return
    this.last = now
    process.stderr.write(this.live ? `\r${text.slice(0, WIDTH).padEnd(WIDTH)}` : `${text}\n`)
  }

  done(): void {
    if (this.live) process.stderr.write(`\r${' '.repeat(WIDTH)}\r`)
  }
}
