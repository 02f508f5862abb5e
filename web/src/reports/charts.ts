import {
  BarController,
  BarElement,
  CategoryScale,
  Chart,
  Legend,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
} from 'chart.js'

// The parts of the drawing package that Shelve uses, once; it comes only with a screen that draws.
Chart.register(
  BarController,
  BarElement,
  CategoryScale,
  Legend,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
)
Chart.defaults.font.family = '"Atkinson Hyperlegible Next Variable", sans-serif'
/** A colour of the theme as it is now, for what is drawn on a canvas. */
export const ink = (name: string): string => getComputedStyle(document.documentElement).getPropertyValue(name).trim()
