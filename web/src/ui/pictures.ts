import { ask } from '../shell/api.ts'

/** The longer side of a picture that is kept: enough to read a delivery note, and quick over a poor network. */
const LONGEST = 1800
/** Pictures taken on this device, shown before the slip that names them is saved. */
const taken = new Map<string, string>()
export const addressOf = (slip: string, picture: string): string =>
  taken.get(picture) ?? `/api/slips/${slip}/pictures/${picture}`

/** A photograph made smaller, turned as it was held. */
async function smaller(file: Blob): Promise<Blob> {
  const image = await createImageBitmap(file, { imageOrientation: 'from-image' })
  const by = Math.min(1, LONGEST / Math.max(image.width, image.height))
  const canvas = document.createElement('canvas')
  canvas.width = Math.round(image.width * by)
  canvas.height = Math.round(image.height * by)
  canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height)
  image.close()
  return new Promise((ok, no) =>
    canvas.toBlob(b => (b ? ok(b) : no(new Error('The picture could not be made smaller.'))), 'image/jpeg', 0.82),
  )
}
/** Sends a photograph; gives the id by which a slip names it. */
export async function sendPicture(file: Blob): Promise<string> {
  let small: Blob
  try {
    small = await smaller(file)
  } catch {
    throw new Error('That is no picture this device can read. Take a photograph, or choose a JPEG, PNG or WebP.')
  }
  const { id } = await ask(
    '/api/pictures',
    { method: 'POST', headers: { 'content-type': small.type }, body: small },
    answer => answer.json() as Promise<{ id: string }>,
    () => 'The server cannot be reached: the picture was not kept. Take it again when it answers.',
  )
  taken.set(id, URL.createObjectURL(small))
  return id
}
