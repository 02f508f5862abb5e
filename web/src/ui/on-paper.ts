import { getCurrentInstance, onScopeDispose, readonly, type Ref, ref } from 'vue'

/**
 * Whether the page is just being drawn for paper, so that a list of which only the lines in sight are made can make all that
 * it has. To be called by the component that draws them: it is drawn at once, since a browser counts the pages before what
 * waits is done.
 */
export function useOnPaper(): Readonly<Ref<boolean>> {
  const on = ref(false)
  const drawn = getCurrentInstance()
  const turn = (e: Event) => {
    on.value = e.type === 'beforeprint'
    drawn?.update()
  }
  const events = ['beforeprint', 'afterprint'] as const
  for (const e of events) addEventListener(e, turn)
  onScopeDispose(() => {
    for (const e of events) removeEventListener(e, turn)
  })
  return readonly(on)
}
