import sharp, { type Metadata, type Sharp } from 'sharp';
import { MOST_PICTURE_PIXELS, PICTURE_KINDS, type PictureUse } from '@/core/pages/picture';
import type { MadePicture } from '@/store/pages/pictures';
import { svgProblem } from './svg';

const FORMATS = ['png', 'jpeg', 'webp', 'gif', 'svg'];
const LONGEST_S = 10;
/** Drawings have no pixels of their own; they are drawn at this many to the inch, and no finer. */
const [LEAST_DENSITY, MOST_DENSITY] = [1, 2400];
const USUAL_DENSITY = 72;

class PictureProblem extends Error {}

async function metadataOf(bytes: Uint8Array): Promise<Metadata> {
  const read = async () => sharp(bytes, { limitInputPixels: false }).metadata();
  const found = await read().catch(() => null);
  if (!found || !FORMATS.includes(found.format ?? '')) {
    throw new PictureProblem('Expected a picture (PNG, JPEG, WebP, GIF or SVG); this is none.');
  }
  const { width = 0, height = 0, format } = found;
  if (format !== 'svg' && width * height > MOST_PICTURE_PIXELS) {
    throw new PictureProblem(
      `Expected at most ${MOST_PICTURE_PIXELS / 1e6} million pixels, got ${width} × ${height}.`,
    );
  }
  return found;
}

/** A drawing is drawn as large as it is shown, whatever size it says of itself. */
function densityFor({ width = 1, height = 1 }: Metadata, use: PictureUse): number {
  const { wide, high } = PICTURE_KINDS[use];
  const density = USUAL_DENSITY * Math.min(wide / width, high / height);
  return Math.min(MOST_DENSITY, Math.max(LEAST_DENSITY, density));
}

function inSize(image: Sharp, use: PictureUse): Sharp {
  const { wide, high } = PICTURE_KINDS[use];
  const clear = { r: 0, g: 0, b: 0, alpha: 0 };
  switch (use) {
    case 'logo':
      return image.resize(wide, high, { fit: 'inside', withoutEnlargement: true }).webp({ quality: 92 });
    case 'favicon':
      return image.resize(wide, high, { fit: 'contain', background: clear }).png();
    case 'cover':
      return image.resize(wide, high, { fit: 'cover', withoutEnlargement: true }).webp({ quality: 82 });
  }
}

/**
 * A picture as it is shown: known by its content and not by its name, turned upright, in its size, and encoded anew, so
 * that nothing else of the file is left (places and times of photographs among it). Drawings become pictures.
 */
export async function preparePicture(
  bytes: Uint8Array,
  use: PictureUse,
): Promise<MadePicture | { problem: string }> {
  try {
    const found = await metadataOf(bytes);
    if (found.format === 'svg') {
      const problem = svgProblem(bytes);
      if (problem) throw new PictureProblem(problem);
    }
    const image = sharp(bytes, {
      limitInputPixels: MOST_PICTURE_PIXELS,
      failOn: 'error',
      ...(found.format === 'svg' && { density: densityFor(found, use) }),
    });
    const { data, info } = await inSize(image.rotate().timeout({ seconds: LONGEST_S }), use).toBuffer({
      resolveWithObject: true,
    });
    return { bytes: data, wide: info.width, high: info.height };
  } catch (error) {
    if (error instanceof PictureProblem) return { problem: error.message };
    return {
      problem: 'Expected a whole picture; this one breaks off, is damaged, or takes too long to read.',
    };
  }
}
