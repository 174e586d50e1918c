/** A photo made small enough to be sent from a roof; drawn anew, so that nothing of where it was taken comes along. */
const LONGEST_PX = 1600;
const QUALITY = 0.8;

/** How large it becomes: never larger than it is. */
export function fitted(width: number, height: number, longest = LONGEST_PX): [number, number] {
  const share = Math.min(1, longest / Math.max(width, height, 1));
  return [Math.max(1, Math.round(width * share)), Math.max(1, Math.round(height * share))];
}

/** Throws where the file is no picture that this device can show. */
export async function smaller(file: Blob): Promise<Blob> {
  const picture = await createImageBitmap(file, { imageOrientation: "from-image" });
  const [width, height] = fitted(picture.width, picture.height);
  const canvas = document.createElement("canvas");
  canvas.width = width;
  canvas.height = height;
  const pen = canvas.getContext("2d");
  if (!pen) throw new Error("no drawing here");
  pen.fillStyle = "#fff";
  pen.fillRect(0, 0, width, height);
  pen.drawImage(picture, 0, 0, width, height);
  picture.close();
  return new Promise((settle, fail) =>
    canvas.toBlob(
      (made) => (made ? settle(made) : fail(new Error("no picture was made"))),
      "image/jpeg",
      QUALITY,
    ),
  );
}

export async function hashOf(blob: Blob): Promise<string> {
  const digest = await crypto.subtle.digest("SHA-256", await blob.arrayBuffer());
  return [...new Uint8Array(digest)].map((byte) => byte.toString(16).padStart(2, "0")).join("");
}
