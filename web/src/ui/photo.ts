const mostPixels = 1600

/** A photo as it is kept: a JPEG, no larger than it needs to be, without what the camera writes beside it. */
export async function shrunk(file: File): Promise<Blob> {
  const picture = await createImageBitmap(file)
  const scale = Math.min(1, mostPixels / Math.max(picture.width, picture.height))
  const canvas = document.createElement('canvas')
  canvas.width = Math.round(picture.width * scale)
  canvas.height = Math.round(picture.height * scale)
  canvas.getContext('2d')!.drawImage(picture, 0, 0, canvas.width, canvas.height)
  return new Promise((resolve, reject) =>
    canvas.toBlob((b) => (b ? resolve(b) : reject(new Error('the picture cannot be kept'))), 'image/jpeg', 0.82),
  )
}
