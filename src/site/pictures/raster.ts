import sharp from 'sharp';

/** A picture for programs that show no drawings: PNG (RFC 2083) of a drawing of ours. */
export async function pngOf(svg: string): Promise<Buffer> {
  return sharp(Buffer.from(svg)).png({ compressionLevel: 9, palette: true }).toBuffer();
}
