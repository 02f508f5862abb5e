import { createCanvas, GlobalFonts, SvgExportFlag } from '@napi-rs/canvas'
import {
  BarController,
  BarElement,
  CategoryScale,
  Chart,
  type ChartConfiguration,
  Legend,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
} from 'chart.js'
import { type Writing, writtenNumber } from '@shelve/core'
import { FACES } from './faces.ts'
import { type ChartOf, HAIR, INK, SOFT } from './paper.ts'

// The same drawing package as on the screen, on a canvas that writes SVG: what is printed stays lines, at any size.
Chart.register(BarController, BarElement, CategoryScale, Legend, LinearScale, LineController, LineElement, PointElement)

// The second one stands in for letters that the first has not.
GlobalFonts.registerFromPath(FACES.Next.normal, 'Words')
GlobalFonts.registerFromPath(FACES.Wide.normal, 'Wide')
const FACE = 'Words, Wide'
/** A name beside a bar that lies leaves room for the bar. */
const LONGEST = 42
const brief = (name: string) => (name.length > LONGEST ? `${name.slice(0, LONGEST - 1).trimEnd()}…` : name)

/** Told apart by lightness too, for printers without colour. */
const TONES = ['#14564F', '#7FA9C6', '#B03C12', '#D9B75B', '#86816F']

const ROW = 17

/** Draws bars (standing by month, or lying with one name each) as SVG, `width` points wide. */
export function chartSvg(c: ChartOf, width: number, decimalMark: Writing['decimalMark']): string {
  const lying = c.sort === 'lying'
  const height = lying ? c.labels.length * ROW + 26 : 190
  const canvas = createCanvas(width, height, SvgExportFlag.ConvertTextToPaths)
  const value = {
    stacked: true,
    grid: { color: HAIR, lineWidth: 0.5 },
    border: { display: false },
    ticks: {
      color: SOFT,
      maxTicksLimit: 6,
      callback: (v: string | number) => writtenNumber(String(v), { decimalMark }).replaceAll('\u202f', ' '),
    },
  }
  const names = {
    stacked: true,
    grid: { display: false },
    border: { color: HAIR },
    ticks: { color: INK, autoSkip: false },
  }
  const config: ChartConfiguration<'bar' | 'line', number[], string> = {
    type: 'bar',
    data: {
      labels: c.labels.map(brief),
      datasets: [
        ...(c.line
          ? [
              {
                type: 'line' as const,
                label: c.line.label,
                data: [...c.line.values],
                borderColor: INK,
                backgroundColor: INK,
                borderWidth: 1.2,
                pointRadius: 2,
              },
            ]
          : []),
        ...c.bars.map((b, i) => ({
          type: 'bar' as const,
          label: b.label,
          data: [...b.values],
          backgroundColor: TONES[i % TONES.length]!,
          stack: 'all',
          maxBarThickness: lying ? 10 : 26,
        })),
      ],
    },
    options: {
      animation: false,
      responsive: false,
      devicePixelRatio: 1,
      indexAxis: lying ? 'y' : 'x',
      font: { family: FACE, size: 8 },
      scales: lying ? { x: value, y: names } : { x: names, y: value },
      plugins: {
        legend: {
          display: c.bars.length > 1 || c.line !== undefined,
          position: 'bottom',
          labels: { color: INK, boxWidth: 10, boxHeight: 7, font: { family: FACE, size: 8 } },
        },
      },
    },
  }
  for (const s of Object.values(config.options!.scales!)) Object.assign(s!.ticks!, { font: { family: FACE, size: 8 } })
  new Chart(canvas as unknown as HTMLCanvasElement, config).destroy()
  return canvas.getContent().toString('utf8')
}
