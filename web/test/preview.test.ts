import { expect } from 'chai'
import { nextTick, ref } from 'vue'
import { browser } from './browser.ts'

describe('a paper as it will look', () => {
  it('follows what is chosen: one is drawn at a time, the last choice in the end, and what was drawn before is not taken for it', async () => {
    browser()
    const { usePreview } = await import('../src/ui/preview.ts')
    const chosen = ref<{ figures: number } | null>({ figures: 1 })
    const drawing: { of: number; done: (b: Blob | Error) => void }[] = []
    const p = usePreview(
      () => chosen.value,
      of =>
        new Promise<Blob>((ok, no) =>
          drawing.push({ of: of.figures, done: b => (b instanceof Error ? no(b) : ok(b)) }),
        ),
    )
    const paper = (n: number) => new Blob([String(n)])
    const settled = async () => {
      for (let i = 0; i < 6; i++) await nextTick()
    }
    const shows = async () => [
      await p.pdf.value?.text(),
      p.drawing.value,
      p.wrong.value,
      drawing.map(d => d.of).join(' '),
    ]
    const choose = async (figures: number | null) => {
      chosen.value = figures === null ? null : { figures }
      await settled()
    }
    const end = async (b: Blob | Error) => {
      drawing.at(-1)!.done(b)
      await settled()
    }
    expect(await shows(), 'at once').to.deep.equal([undefined, true, '', '1'])
    await end(paper(1))
    expect(await shows()).to.deep.equal(['1', false, '', '1'])
    await choose(2)
    await choose(3)
    await choose(4)
    expect(await shows(), 'still of the first choice, and says so').to.deep.equal(['1', true, '', '1 2'])
    await end(paper(2))
    expect(await shows(), 'not of one that was chosen in between').to.deep.equal(['1', true, '', '1 2 4'])
    await end(new Error('the press is away'))
    expect(await shows()).to.deep.equal([undefined, false, 'the press is away', '1 2 4'])
    await choose(5)
    await choose(null)
    await end(paper(5))
    expect(await shows(), 'of nothing there is nothing').to.deep.equal([undefined, false, '', '1 2 4 5'])
    await choose(6)
    await choose(7)
    await end(new Error('an error about what is not wanted any more'))
    await end(paper(7))
    expect(await shows()).to.deep.equal(['7', false, '', '1 2 4 5 6 7'])
  })
})
