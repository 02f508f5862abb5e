/** Slips as people write them: drafts, reading what was typed, before and after, booking. */
export { bookNow, NotBooked } from './book.ts'
export { contentOf, putDraft } from './drafts.ts'
export { type House } from './house.ts'
export { dropUnshown, unshownIn } from './pictures.ts'
export { routes } from './routes.ts'
export { maySee, seesSlipValue } from './view.ts'
export { quantityRefusal, wordRefusal } from './words.ts'
