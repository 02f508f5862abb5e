/** Papers and lists: what goes out as PDF or CSV. */
export { type House } from './house.ts'
export { errands, listed, listingPdf } from './listing.ts'
export { A4, barsOf, figure, HAIR, MARGIN, mono, type Paper, soft, SOFT } from './paper.ts'
export { press } from './press.ts'
export { oneLine, type Part, twoLines } from './typeset.ts'
export { code128 } from './symbols.ts'
