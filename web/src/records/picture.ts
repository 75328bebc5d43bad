/** A picture is kept no larger than this, bytes: many go through a thin signal. */
export const SMALL = 300_000;
/** What a device is asked to open, bytes. */
const LARGEST = 100_000_000;

/** Longest side and quality, tried one after another until it is small. */
export const TRIES: readonly (readonly [longest: number, quality: number])[] = [
  [1600, 0.75],
  [1600, 0.6],
  [1280, 0.6],
  [1024, 0.5],
  [800, 0.4],
];

/** Width and height within a longest side; never larger than it was. */
export function within(width: number, height: number, longest: number): [number, number] {
  const scale = Math.min(1, longest / Math.max(width, height));
  return [Math.max(1, Math.round(width * scale)), Math.max(1, Math.round(height * scale))];
}

/**
 * A picture as a small JPEG in Base64. It is drawn anew, so that what a camera writes beside it (where, when, whose)
 * stays on the device.
 */
export async function shrunk(file: Blob): Promise<string> {
  if (file.size > LARGEST) throw new Error("this file is too large for a photo");
  const picture = await createImageBitmap(file).catch(() => {
    throw new Error("this file is not a photo that can be read");
  });
  const canvas = document.createElement("canvas");
  try {
    for (const [longest, quality] of TRIES) {
      [canvas.width, canvas.height] = within(picture.width, picture.height, longest);
      canvas.getContext("2d")?.drawImage(picture, 0, 0, canvas.width, canvas.height);
      const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, "image/jpeg", quality));
      if (blob && blob.size <= SMALL) return await inBase64(blob);
    }
  } finally {
    picture.close();
  }
  throw new Error("this photo cannot be made small enough");
}

function inBase64(blob: Blob): Promise<string> {
  return new Promise((done, fail) => {
    const reader = new FileReader();
    reader.onload = () => done(String(reader.result).replace(/^data:[^,]*,/, ""));
    reader.onerror = () => fail(new Error("the photo cannot be read"));
    reader.readAsDataURL(blob);
  });
}
