/** Papers and lists: what goes out as PDF or CSV. */
export { type House } from './house.ts'
export { errands, listed, listingPdf } from './listing.ts'
export {
  A4,
  barsOf,
  figure,
  HAIR,
  MARGIN,
  mono,
  oneLine,
  type Paper,
  type Part,
  soft,
  SOFT,
  twoLines,
} from './paper.ts'
export { press } from './press.ts'
export { code128 } from './symbols.ts'
