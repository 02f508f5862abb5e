/** A code's picture: where it is, and how wide it is drawn, in pixels of the screen. */
export interface DrawnCode {
  readonly src: string
  readonly width: number
}
/** How high it is drawn, in pixels of the screen. */
export const CODE_HEIGHT = 64
/** Dark bars on white in either theme, with ten modules of light on both sides (ISO/IEC 15417): else no scanner finds it. */
const LIGHT = { backgroundcolor: 'ffffff', paddingwidth: 10 }

/**
 * Draws a code as Code 128, which every scanner reads (a GS1 one is given with its identifiers in brackets); the package for it
 * comes only where one is shown. Its narrowest bar is as many whole pixels (`module`): bars between two pixels run into each
 * other on a screen.
 */
export async function drawnCode(text: string, module: 1 | 2 = 2): Promise<DrawnCode> {
  const { toSVG } = await import('bwip-js/browser')
  const bcid = text.startsWith('(') ? 'gs1-128' : 'code128'
  const svg = toSVG({ bcid, text, scale: module, height: 18 / module, paddingheight: 6 / module, ...LIGHT })
  return {
    src: `data:image/svg+xml;utf8,${encodeURIComponent(svg)}`,
    width: Number(/viewBox="0 0 (\d+) /.exec(svg)![1]),
  }
}
