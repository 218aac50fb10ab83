import type { Element } from 'chart.js'
import { Chart } from './chartJs.ts'
import { toChartJs, type PictureSpec } from './toChartJs.ts'

let isFirst = true
/** Whether no picture was drawn before: what the library does for the first time takes it several times as long. */
export function isFirstPicture(): boolean {
  const was = isFirst
  isFirst = false
  return was
}

/** A chart of the library that lives as long as its canvas: new data are handed to it, it is never made anew. */
export class HeldChart {
  private readonly chart: Chart

  constructor(canvas: HTMLCanvasElement) {
    this.chart = new Chart(canvas, { type: 'line', data: { datasets: [] } })
  }

  show(spec: PictureSpec): void {
    const { data, options = {} } = toChartJs(spec)
    const { chart } = this
    if (chart.width !== spec.width || chart.height !== spec.height) chart.resize(spec.width, spec.height)
    handOver(chart.data.datasets, data.datasets)
    chart.options = options
    // Not the library's way of updating without animation: that keeps the inks that bars had before. Nothing is animated anyway.
    chart.update()
  }

  /** Where the points of a series were drawn, in pixels of the picture, and by which of the library's objects. */
  drawn(series: number): Element[] {
    return this.chart.getDatasetMeta(series).data
  }

  end(): void {
    this.chart.destroy()
  }
}

/** The library knows its data sets again by their identity, and keeps what it made for them. */
function handOver(kept: Chart['data']['datasets'], next: Chart['data']['datasets']): void {
  kept.length = Math.min(kept.length, next.length)
  next.forEach((dataset, i) => (kept[i]?.type === dataset.type ? Object.assign(kept[i], dataset) : (kept[i] = dataset)))
}
