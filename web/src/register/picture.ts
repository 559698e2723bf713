/** The longest side of a picture that is sent, and the size up to which one is sent as it is. */
const LONGEST = 1600;
const SMALL = 1_500_000;

async function base64(blob: Blob): Promise<string> {
  const bytes = new Uint8Array(await blob.arrayBuffer());
  let text = "";
  for (let at = 0; at < bytes.length; at += 0x8000)
    text += String.fromCharCode(...bytes.subarray(at, at + 0x8000));
  return btoa(text);
}

/** A picture in Base64, made small on this device; one whose place is to be kept, or that is small, goes as it is. */
export async function shrunk(file: File, asItIs = false): Promise<string> {
  if ((asItIs && file.size < 8_000_000) || file.size < SMALL) return base64(file);
  const image = await createImageBitmap(file, { imageOrientation: "from-image" });
  const share = Math.min(LONGEST / Math.max(image.width, image.height), 1);
  const canvas = new OffscreenCanvas(Math.round(image.width * share), Math.round(image.height * share));
  canvas.getContext("2d")?.drawImage(image, 0, 0, canvas.width, canvas.height);
  return base64(await canvas.convertToBlob({ type: "image/jpeg", quality: 0.85 }));
}
