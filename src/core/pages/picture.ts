/** What a picture of a page is for; each is made as large as it is shown. */
export const PICTURE_USES = ['logo', 'favicon', 'cover'] as const;
export type PictureUse = (typeof PICTURE_USES)[number];

interface PictureKind {
  type: 'webp' | 'png';
  /** In pixels; twice what is shown, for screens that are twice as fine. */
  wide: number;
  high: number;
}

export const PICTURE_KINDS: Readonly<Record<PictureUse, PictureKind>> = {
  logo: { type: 'webp', wide: 480, high: 120 },
  favicon: { type: 'png', wide: 128, high: 128 },
  cover: { type: 'webp', wide: 2200, high: 400 },
};

/** What is taken in at most: a photograph of a telephone. */
export const MOST_PICTURE_BYTES = 12_000_000;
export const MOST_PICTURE_PIXELS = 60_000_000;

/** A picture is called by what is in it (SHA-256, cut), how large it is, and what it is: "k3J…Q.480x96.webp". */
export const PICTURE_NAME = /^[\w-]{22}\.(\d{1,4})x(\d{1,4})\.(?:webp|png)$/;

/** How large a picture is by its name, in pixels. */
export function sizeOfPicture(name: string): { wide: number; high: number } {
  const [, wide, high] = PICTURE_NAME.exec(name) ?? [];
  return { wide: Number(wide ?? 0), high: Number(high ?? 0) };
}

/** The pictures of a page; a logo may differ by night. */
export interface PagePictures {
  logo: string | null;
  logoDark: string | null;
  favicon: string | null;
  cover: string | null;
}

export const NO_PICTURES: PagePictures = { logo: null, logoDark: null, favicon: null, cover: null };

/** Which use each picture of a page is of. */
export const USE_OF: Readonly<Record<keyof PagePictures, PictureUse>> = {
  logo: 'logo',
  logoDark: 'logo',
  favicon: 'favicon',
  cover: 'cover',
};

/** The names of all pictures a page shows. */
export function picturesOf({ logo, logoDark, favicon, cover }: PagePictures): string[] {
  return [logo, logoDark, favicon, cover].filter((name) => name !== null);
}

export function typeOfPicture(name: string): string {
  return name.endsWith('.png') ? 'image/png' : 'image/webp';
}
