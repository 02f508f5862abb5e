/** Draws a code as Code 128, as SVG. The package is large and loaded only when something is printed. */
export async function code128(): Promise<(text: string) => string> {
  const { toSVG } = await import('bwip-js/node')
  return text => toSVG({ bcid: 'code128', text, height: 11, scale: 1 })
}
