import { scaleLinear, type ScaleContinuousNumeric } from 'd3-scale'
import type { Ink } from './ink.ts'

/** An axis: from values to pixels of the picture, with its marks. Where it begins and ends in the picture is the scale's range. */
export interface Axis {
  scale: ScaleContinuousNumeric<number, number>
  log?: boolean
  ticks: readonly { at: number; label: string }[]
  /** thin rules across the picture at the marks; they are there if left out */
  rules?: boolean
  /** where labels stand against their mark; middle if left out */
  labels?: 'middle' | 'after'
}

/** An axis that nothing is written on. */
export const bareAxis = (scale: Axis['scale'], log = false): Axis => ({ scale, log, ticks: [], rules: false })

/** Heights that are pixels of the picture, from its top. */
export const pixelAxis = (bottom: number, top = 0): Axis => bareAxis(scaleLinear([bottom, top], [bottom, top]))

export interface Point {
  x: number
  y: number
}

/** What a chart draws; each lies over those before it in the list. */
export type Series = LineSeries | PointSeries | BarSeries

export interface LineSeries {
  kind: 'line'
  points: readonly Point[]
  colour: string
  width?: number
  dash?: readonly number[]
  /** what lies between the line and the axis, or between it and the line before it in the list */
  fill?: {
    to: 'axis' | 'line before'
    ink: Ink
    /** where the line lies lower than what it is filled to; the same ink if left out */ below?: Ink
  }
  /** goes along until the next point, and jumps there */
  stepped?: boolean
}

export interface PointSeries {
  kind: 'points'
  points: readonly Point[]
  colour: string
  alpha?: number
  shape: 'disc' | 'ring' | 'square' | 'triangle' | 'cross' | 'grain'
  radius: number
}

/** Bars that lie along x, from one value to another, at a height. */
export interface BarSeries {
  kind: 'bars'
  bars: readonly { from: number; until: number; at: number }[]
  /** in pixels */
  thickness: number
  ink: Ink
  outline?: { colour: string; width: number }
}

/** What is laid over a chart or beneath it, between values; left out is where the picture ends. */
export type Mark =
  | { kind: 'line'; x?: number; y?: number; colour: string; width?: number; dash?: readonly number[] }
  | { kind: 'area'; x?: readonly [number, number]; y?: readonly [number, number]; colour: string; alpha: number }
