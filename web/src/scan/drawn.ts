/** A code's picture: where it is, and how wide it is drawn, in pixels of the screen. */
export interface DrawnCode {
  readonly src: string
  readonly width: number
}
/** How high it is drawn, in pixels of the screen. */
export const CODE_HEIGHT = 64
/** Dark bars on white in either theme, with ten modules of light on both sides (ISO/IEC 15417): else no scanner finds it. */
const LIGHT = { backgroundcolor: 'ffffff', paddingwidth: 10, paddingheight: 3 }

/** Draws a code as Code 128, which every scanner reads; the package for it comes only where one is shown. */
export async function drawnCode(text: string): Promise<DrawnCode> {
  const { toSVG } = await import('bwip-js/browser')
  const svg = toSVG({ bcid: 'code128', text, height: 9, scale: 2, ...LIGHT })
  return {
    src: `data:image/svg+xml;utf8,${encodeURIComponent(svg)}`,
    width: Number(/viewBox="0 0 (\d+) /.exec(svg)![1]),
  }
}
