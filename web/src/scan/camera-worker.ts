import wasmUrl from 'zxing-wasm/reader/zxing_reader.wasm?url'
import { prepareZXingModule, readBarcodes } from 'zxing-wasm/reader'

/** Reads symbols off pictures of the camera, beside the page. The reader ships with the application: nothing is fetched from elsewhere. */
prepareZXingModule({
  overrides: { locateFile: (path: string, prefix: string) => (path.endsWith('.wasm') ? wasmUrl : prefix + path) },
})
onmessage = async (m: MessageEvent<ImageData>) => {
  try {
    // Plain text keeps the separators of GS1, as a scanner sends them.
    const [found] = await readBarcodes(m.data, { tryHarder: true, maxNumberOfSymbols: 1, textMode: 'Plain' })
    postMessage({ code: found?.isValid ? found.text : null })
  } catch (e) {
    postMessage({ code: null, trouble: e instanceof Error ? e.message : String(e) })
  }
}
