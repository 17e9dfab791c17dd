/** Longest side of a picture that is sent along, px, and characters of its base64 at most. */
const [longestSide, mostText] = [1280, 175_000]

/** A picture made small enough to be sent along, as base64 of a JPEG. Rejects what is no picture. */
export async function smallPicture(file: Blob): Promise<string> {
  const bitmap = await createImageBitmap(file)
  for (let side = longestSide; ; side = Math.round(side * 0.75)) {
    const scale = Math.min(1, side / Math.max(bitmap.width, bitmap.height))
    const canvas = document.createElement('canvas')
    canvas.width = Math.max(1, Math.round(bitmap.width * scale))
    canvas.height = Math.max(1, Math.round(bitmap.height * scale))
    canvas.getContext('2d')!.drawImage(bitmap, 0, 0, canvas.width, canvas.height)
    const text = canvas.toDataURL('image/jpeg', 0.82).split(',')[1]
    if (text.length <= mostText || side < 200) return text
  }
}
