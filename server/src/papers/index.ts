/** Slips as people write them: drafts, reading what was typed, before and after, booking. */
export { bookNow, NotBooked } from './book.ts'
export { contentOf, putDraft } from './drafts.ts'
export { finders } from './finders.ts'
export { type House } from './house.ts'
export { dropUnshown, unshownIn } from './pictures.ts'
export { routes } from './routes.ts'
export { maySee, slipScope } from './view.ts'
export { quantityRefusal, wordRefusal } from './words.ts'
