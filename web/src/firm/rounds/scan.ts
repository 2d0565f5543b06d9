const JOB_PATH = /^\/jobs\/([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})(?:\/[a-z]+)?\/?$/i;

/** The job a household's code names, wherever it was printed; null for any other code. */
export function jobInCode(text: string): string | null {
  if (!URL.canParse(text)) return null;
  const { protocol, pathname } = new URL(text);
  return protocol.startsWith('http') ? (JOB_PATH.exec(pathname)?.[1]?.toLowerCase() ?? null) : null;
}

/** A picture is looked at no larger than this: a code fills a good part of it, px. */
const MOST_PX = 1200;

/** What the code on a picture says; null where there is none to be read. @throws where the file is no picture */
export async function codeOn(picture: Blob): Promise<string | null> {
  const bitmap = await createImageBitmap(picture);
  const scale = Math.min(1, MOST_PX / Math.max(bitmap.width, bitmap.height));
  const [width, height] = [Math.max(1, Math.round(bitmap.width * scale)), Math.max(1, Math.round(bitmap.height * scale))];
  const canvas = Object.assign(document.createElement('canvas'), { width, height });
  const context = canvas.getContext('2d', { willReadFrequently: true });
  if (!context) throw new Error('no canvas');
  context.drawImage(bitmap, 0, 0, width, height);
  bitmap.close();
  const { default: read } = await import('jsqr');
  return read(context.getImageData(0, 0, width, height).data, width, height)?.data ?? null;
} // oxfmt-ignore
