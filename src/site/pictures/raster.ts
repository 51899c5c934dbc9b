/** A picture for programs that show no drawings: PNG (RFC 2083) of a drawing of ours. */
export async function pngOf(svg: string): Promise<Buffer> {
  // Loaded with the first picture: pages are drawn without it.
  const { default: sharp } = await import('sharp');
  return sharp(Buffer.from(svg)).png({ compressionLevel: 9, palette: true }).toBuffer();
}
