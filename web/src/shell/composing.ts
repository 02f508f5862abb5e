/**
 * While an input method composes a word (Chinese, Japanese, Korean, some accents) its keys choose among words, and Enter ends
 * the choice: none of them is meant for Shelve. Called before anything else listens. Source: UI Events, 4.3.3
 * (`isComposing`); 229 is what browsers give as the code of a key that the input method took (there, 8.3).
 */
export function composingComesFirst(): void {
  window.addEventListener(
    'keydown',
    e => {
      if (e.isComposing || e.keyCode === 229) e.stopImmediatePropagation()
    },
    true,
  )
}
