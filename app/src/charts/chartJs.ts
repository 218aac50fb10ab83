import {
  BarController,
  BarElement,
  Chart,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  LogarithmicScale,
  PointElement,
  ScatterController,
} from 'chart.js'
import annotation from 'chartjs-plugin-annotation'

/**
 * The chart library as this application uses it, set up once: what is drawn is ours (tokens, type, hatchings, direct labels), and
 * so is every hand that is laid on it. Nothing moves by itself, and pointers are heard by the pictures, not by the library.
 */
Chart.register(
  BarController,
  BarElement,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  LogarithmicScale,
  PointElement,
  ScatterController,
  annotation,
)
Object.assign(Chart.defaults, {
  animation: false,
  responsive: false,
  maintainAspectRatio: false,
  parsing: false,
  normalized: true,
  events: [],
})
Chart.defaults.font.family = "'Commissioner Variable', sans-serif"
Chart.defaults.font.size = 12

export { Chart }
