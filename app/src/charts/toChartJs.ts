import type { ChartConfiguration, ChartDataset, ScaleOptionsByType } from 'chart.js'
import type { AnnotationOptions } from 'chartjs-plugin-annotation'
import { colourOf, fillOf } from './ink.ts'
import type { Axis, BarSeries, LineSeries, Mark, PointSeries, Series } from './spec.ts'

/** A picture in our words. */
export interface PictureSpec {
  x: Axis
  y: Axis
  series: readonly Series[]
  marks: readonly Mark[]
  width: number
  height: number
}

type Dataset = ChartDataset<'line' | 'scatter' | 'bar'>

/** Data and options of the chart library for a picture, in the colours of the theme of now. */
export function toChartJs({
  x,
  y,
  series,
  marks,
  width,
  height,
}: PictureSpec): Pick<ChartConfiguration<'line' | 'scatter' | 'bar'>, 'data' | 'options'> {
  const [left, right] = x.scale.range()
  const [bottom, top] = y.scale.range()
  return {
    // The library draws what has the highest order first, beneath the others.
    data: { datasets: series.map((one, i) => ({ ...datasetOf(one), order: series.length - i })) },
    options: {
      // Points at an end stand out over it, as they do in any other place: the library would make room for them, and nothing laid over
      // would fit.
      layout: { autoPadding: false, padding: { left: 0, top, right: width - right, bottom: 0 } },
      indexAxis: series.some((s) => s.kind === 'bars') ? 'y' : 'x',
      scales: { x: axisOf(x, 'x', height - bottom), y: axisOf(y, 'y', left) },
      plugins: { annotation: { annotations: marks.map(annotationOf), clip: false } },
    } as ChartConfiguration<'line' | 'scatter' | 'bar'>['options'], // the library's types want one kind of axis to be known beforehand
  }
}

function axisOf(axis: Axis, side: 'x' | 'y', room: number): Partial<ScaleOptionsByType<'linear' | 'logarithmic'>> {
  const [first, last] = axis.scale.domain()
  return {
    type: axis.log ? 'logarithmic' : 'linear',
    min: Math.min(first, last),
    max: Math.max(first, last),
    reverse: first > last,
    // The room for labels is ours, so that what lies over the chart knows where it is; so are labels that stand out at an end.
    afterFit: (scale: object) =>
      void Object.assign(scale, {
        [side === 'x' ? 'height' : 'width']: room,
        paddingTop: 0,
        paddingBottom: 0,
        paddingLeft: 0,
        paddingRight: 0,
      }),
    afterBuildTicks: (scale: { ticks: { value: number }[] }) => void (scale.ticks = axis.ticks.map(({ at }) => ({ value: at }))),
    border: { display: false },
    grid: { color: colourOf('--rule'), lineWidth: 0.7, drawTicks: false, display: axis.rules !== false },
    ticks: {
      autoSkip: false,
      maxRotation: 0,
      padding: 5,
      color: colourOf('--faded'),
      font: { size: 12 },
      ...(axis.labels === 'after' && { align: 'start', labelOffset: 4 }),
      callback: (value: number | string) => axis.ticks.find(({ at }) => at === Number(value))?.label ?? '',
    },
  } as unknown as Partial<ScaleOptionsByType<'linear' | 'logarithmic'>> // hooks are typed for a whole scale of the library
}

function datasetOf(series: Series): Dataset {
  return series.kind === 'line' ? lineOf(series) : series.kind === 'points' ? pointsOf(series) : barsOf(series)
}

function lineOf({ points, colour, width = 1.4, dash = [], fill, stepped }: LineSeries): Dataset {
  return {
    type: 'line',
    data: [...points],
    borderColor: colourOf(colour),
    borderWidth: width,
    borderDash: [...dash],
    borderJoinStyle: 'round',
    pointRadius: 0,
    stepped: stepped ? 'before' : false,
    fill: fill ? { target: fill.to === 'axis' ? 'start' : '-1', above: fillOf(fill.ink), below: fillOf(fill.below ?? fill.ink) } : false,
  }
}

const SHAPES = { disc: 'circle', ring: 'circle', square: 'rect', triangle: 'triangle', cross: 'crossRot', grain: 'rect' } as const

function pointsOf({ points, colour, alpha, shape, radius }: PointSeries): Dataset {
  const open = shape === 'ring'
  const edge = shape === 'disc' ? '--paper' : colour
  return {
    type: 'scatter',
    data: [...points],
    clip: radius + 2,
    pointStyle: SHAPES[shape],
    pointRadius: radius,
    pointBorderColor: colourOf(edge),
    pointBorderWidth: shape === 'grain' ? 0 : shape === 'cross' ? 1.8 : 1.2,
    pointBackgroundColor: open ? 'transparent' : colourOf(colour, alpha),
  }
}

function barsOf({ bars, thickness, ink, outline }: BarSeries): Dataset {
  return {
    // Bars between two values are not among what the library takes unparsed.
    type: 'bar',
    parsing: { xAxisKey: 'x', yAxisKey: 'y' },
    data: bars.map((b) => ({ x: [b.from, b.until], y: b.at })),
    barThickness: thickness,
    grouped: false,
    backgroundColor: fillOf(ink),
    minBarLength: 1,
    borderColor: outline ? colourOf(outline.colour) : 'transparent',
    borderWidth: outline?.width ?? 0,
    borderSkipped: false,
  } as unknown as Dataset // bars between two values at a place are typed without the place
}

function annotationOf(mark: Mark): AnnotationOptions {
  if (mark.kind === 'area') {
    const { x, y } = mark
    return {
      type: 'box',
      drawTime: 'beforeDatasetsDraw',
      borderWidth: 0,
      backgroundColor: colourOf(mark.colour, mark.alpha),
      ...(x && { xMin: x[0], xMax: x[1] }),
      ...(y && { yMin: y[0], yMax: y[1] }),
    }
  }
  const { x, y, colour, width = 1, dash = [] } = mark
  return {
    type: 'line',
    drawTime: 'afterDatasetsDraw',
    borderColor: colourOf(colour),
    borderWidth: width,
    borderDash: [...dash],
    ...(x !== undefined && { xMin: x, xMax: x }),
    ...(y !== undefined && { yMin: y, yMax: y }),
  }
}
