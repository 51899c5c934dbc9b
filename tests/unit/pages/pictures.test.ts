import { copyFileSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { PLAIN_SETTINGS } from '@/core/pages/page';
import {
  MOST_PICTURE_PIXELS,
  NO_PICTURES,
  PICTURE_KINDS,
  PICTURE_NAME,
  PICTURE_USES,
  picturesOf,
  sizeOfPicture,
  typeOfPicture,
} from '@/core/pages/picture';
import { DAY_MS } from '@/core/time/units';
import { inLines, openLetters, type Letters } from '@/site/pictures/letters';
import { preparePicture } from '@/site/pictures/prepare';
import { pngOf } from '@/site/pictures/raster';
import { SOCIAL_SIZE } from '@/site/pictures/size';
import { socialSvg } from '@/site/pictures/social';
import { svgProblem } from '@/site/pictures/svg';
import type { PublicPage } from '@/views/pages/public-page';

const NOW = Date.UTC(2026, 10, 25, 12);
const plain = (width: number, height: number, rgb = '#1c5d7d') =>
  sharp({ create: { width, height, channels: 3, background: rgb } });
const drawing = (inside: string, attributes = 'viewBox="0 0 40 20"') =>
  Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" ${attributes}>${inside}</svg>`);

async function made(bytes: Uint8Array, use: (typeof PICTURE_USES)[number] = 'logo') {
  const picture = await preparePicture(bytes, use);
  if ('problem' in picture) throw new Error(picture.problem);
  return { picture, meta: await sharp(picture.bytes).metadata() };
}

async function problem(bytes: Uint8Array): Promise<string> {
  const picture = await preparePicture(bytes, 'logo');
  return 'problem' in picture ? picture.problem : 'none';
}

describe('a picture as it is shown', () => {
  it('is as large as it is shown and no larger, whatever it was', async () => {
    const large = await plain(4000, 1000).jpeg().toBuffer();
    for (const use of PICTURE_USES) {
      const { wide, high, type } = PICTURE_KINDS[use];
      const { picture, meta } = await made(large, use);
      expect([meta.format, picture.wide, picture.high]).toEqual([type, meta.width, meta.height]);
      expect(picture.wide).toBeLessThanOrEqual(wide);
      expect(picture.high).toBeLessThanOrEqual(high);
    }
    const { picture } = await made(await plain(100, 20).png().toBuffer());
    expect([picture.wide, picture.high]).toEqual([100, 20]);
  });

  it('is square for the window, and cut to its shape as a cover', async () => {
    const wide = await plain(3000, 1500).png().toBuffer();
    expect((await made(wide, 'favicon')).picture).toMatchObject({ wide: 128, high: 128 });
    expect((await made(wide, 'cover')).picture).toMatchObject({ wide: 2200, high: 400 });
  });

  it('is known by its content, and turned upright with nothing else of the file left', async () => {
    const photo = await plain(200, 100)
      .jpeg()
      .withMetadata({ orientation: 6 })
      .withExif({ IFD0: { Copyright: 'somebody at home' } })
      .toBuffer();
    expect(photo.includes('somebody at home')).toBe(true);
    const { picture, meta } = await made(photo);
    expect([picture.wide, picture.high]).toEqual([60, 120]);
    expect(meta.exif).toBeUndefined();
    expect(Buffer.from(picture.bytes).includes('somebody at home')).toBe(false);
    // The first of many that move.
    const moving = await sharp(
      [await plain(8, 8).png().toBuffer(), await plain(8, 8, '#fff').png().toBuffer()],
      {
        join: { animated: true },
      },
    )
      .gif()
      .toBuffer();
    expect((await made(moving)).meta.pages ?? 1).toBe(1);
  });

  it('is drawn from a drawing as sharply as it is shown', async () => {
    const { picture, meta } = await made(drawing('<rect width="40" height="20" fill="#1c5d7d"/>'));
    expect([picture.wide, picture.high, meta.format]).toEqual([240, 120, 'webp']);
    const huge = drawing('<rect width="9" height="9"/>', 'width="90000" height="90000" viewBox="0 0 9 9"');
    expect((await made(huge)).picture).toMatchObject({ wide: 120, high: 120 });
  });

  it.each([
    ['text', Buffer.from('<h1>No picture</h1>')],
    ['nothing', Buffer.alloc(0)],
    ['a document', Buffer.from('%PDF-1.4\n1 0 obj\n<<>>\nendobj\n')],
    ['noise', Buffer.from(Array.from({ length: 900 }, (_, i) => (i * 7919) % 256))],
  ])('is not %s', async (_, bytes) => {
    expect(await problem(bytes)).toBe('Expected a picture (PNG, JPEG, WebP, GIF or SVG); this is none.');
  });

  it('is no format that is not named, and none with too many pixels', async () => {
    const tiff = await plain(8, 8).tiff().toBuffer();
    expect(await problem(tiff)).toContain('this is none');
    const side = Math.ceil(Math.sqrt(MOST_PICTURE_PIXELS)) + 1;
    const bomb = await plain(side, side).png({ compressionLevel: 9, palette: true }).toBuffer();
    expect(bomb.length).toBeLessThan(1_000_000);
    expect(await problem(bomb)).toBe(`Expected at most 60 million pixels, got ${side} × ${side}.`);
  });

  it('is whole', async () => {
    const whole = await plain(300, 300).png().toBuffer();
    expect(await problem(whole.subarray(0, whole.length - 60))).toMatch(/^Expected a whole picture/);
  });
});

describe('a drawing from outside', () => {
  it.each([
    ['<script>alert(1)</script>', 'a script'],
    ['<svg:script xmlns:svg="http://www.w3.org/2000/svg"/>', 'a script'],
    ['<rect onload="alert(1)"/>', 'something that runs by itself'],
    ['<foreignObject><p/></foreignObject>', 'something that is no drawing'],
    ['<image href="https://other.example/x.png"/>', 'a reference to elsewhere'],
    ["<image xlink:href='file:///etc/passwd'/>", 'a reference to elsewhere'],
    ['<use href="other.svg#a"/>', 'a reference to elsewhere'],
    ['<image href="data:image/svg+xml,x"/>', 'a reference to elsewhere'],
    ['<rect fill="url(https://other.example/#a)"/>', 'a reference to elsewhere'],
    ['<style>@import "x.css";</style>', 'a sheet of style from elsewhere'],
    ['<style>rect{fill:url( "//other.example/" )}</style>', 'a reference to elsewhere'],
  ])('holds no %s', (inside, what) => {
    expect(svgProblem(drawing(inside))).toBe(
      `Expected a drawing of lines and colours alone; this one holds ${what}.`,
    );
  });

  it('has no document type, for that may grow without end, and no sheet from elsewhere', () => {
    const bomb = '<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]><svg xmlns="x">&b;</svg>';
    expect(svgProblem(Buffer.from(bomb))).toContain('a document type of its own');
    const styled = '<?xml-stylesheet href="x.css"?><svg xmlns="http://www.w3.org/2000/svg"/>';
    expect(svgProblem(Buffer.from(styled))).toContain('a sheet of style from elsewhere');
  });

  it('is UTF-8, and not endless', () => {
    expect(svgProblem(Buffer.from(drawing('').toString(), 'utf16le'))).toBe('Expected a drawing in UTF-8.');
    expect(svgProblem(drawing('<g/>'.repeat(130_000)))).toBe('Expected a drawing of at most 500 kB.');
  });

  it('may point at its own parts, and hold pictures', () => {
    const inside =
      '<defs><linearGradient id="a"/></defs><rect fill="url(#a)"/><use href="#b"/>' +
      '<image href="data:image/png;base64,AAAA"/><text>once upon = a time</text>';
    expect(svgProblem(drawing(inside))).toBe(null);
  });
});

describe('the name of a picture', () => {
  const name = 'abcdefghijklmnopqrstuv.480x96.webp';

  it('says how large it is and what it is', () => {
    expect(sizeOfPicture(name)).toEqual({ wide: 480, high: 96 });
    expect([typeOfPicture(name), typeOfPicture('a.png')]).toEqual(['image/webp', 'image/png']);
    for (const none of ['', 'x.webp', `../${name}`, `${name}/x`, name.replace('webp', 'svg')])
      expect(PICTURE_NAME.test(none)).toBe(false);
  });

  it('is found on the page that shows it', () => {
    expect(picturesOf(NO_PICTURES)).toEqual([]);
    expect(picturesOf({ ...NO_PICTURES, logoDark: name, cover: 'b' })).toEqual([name, 'b']);
  });
});

describe('what pictures are written with', () => {
  let folder: string;
  let letters: Letters;
  beforeAll(() => {
    folder = mkdtempSync(join(tmpdir(), 'letters-'));
    const families = {
      reading: 'atkinson-hyperlegible-next',
      strong: 'atkinson-hyperlegible-next',
      leading: 'newsreader',
    };
    const weights = { reading: 400, strong: 600, leading: 500 };
    for (const face of ['reading', 'strong', 'leading'] as const)
      for (const part of ['latin', 'latin-ext']) {
        const file = `${families[face]}-${part}-${weights[face]}-normal.woff`;
        copyFileSync(
          `node_modules/@fontsource/${families[face]}/files/${file}`,
          join(folder, `${face}-${part}.woff`),
        );
      }
    letters = openLetters(folder);
  });
  afterAll(() => rmSync(folder, { recursive: true }));

  it('has a shape for each letter of the languages that ship, and a box for others', () => {
    const at = { x: 0, y: 0 };
    const shapes = [...'AäßéõñÇŐœ9.95 %–…“'].map((one) => letters.shapeOf(one, at, 20, 'reading'));
    expect(shapes.filter((one) => one === '')).toHaveLength(1); // the space
    expect(new Set(shapes).size).toBe(shapes.length - 1); // the 9 comes twice
    for (const shape of shapes) expect(shape).toMatch(/^[MLQCZ\d. -]*$/);
    expect(letters.shapeOf('海', at, 20, 'reading')).toBe(letters.shapeOf('島', at, 20, 'reading'));
  });

  it('writes one letter behind the other, as wide as it says', () => {
    const whole = letters.widthOf('Wharf ő', 40, 'strong');
    expect(whole).toBeGreaterThan(letters.widthOf('Wharf', 40, 'strong'));
    expect(letters.widthOf('Wharf ő', 80, 'strong')).toBeCloseTo(2 * whole, 5);
    const numbers = (x: number) =>
      [...letters.shapeOf('l', { x, y: 0 }, 40, 'strong').matchAll(/[ML](-?[\d.]+)/g)].map(([, n]) =>
        Number(n),
      );
    expect(numbers(100)[0]! - numbers(0)[0]!).toBeCloseTo(100, 1);
  });

  it('breaks a text into lines that fit, and says where it goes on', () => {
    const fixed = { widthOf: (text: string) => [...text].length };
    const lay = (text: string, wide: number, most: number) =>
      inLines(fixed, text, { size: 1, face: 'leading', wide, most });
    expect(lay('the boats sail at dawn', 10, 3)).toEqual(['the boats', 'sail at', 'dawn']);
    expect(lay('the boats sail at dawn', 10, 2)).toEqual(['the boats', 'sail at…']);
    expect(lay('the boats sail', 9, 1)).toEqual(['the boat…']);
    expect(lay('unbrokenwordwithoutend', 8, 2)).toEqual(['unbroke…']);
    expect(lay('', 8, 2)).toEqual([]);
    for (const line of lay('a very long sentence that goes on and on without any end', 12, 3))
      expect(line.length).toBeLessThanOrEqual(12);
  });

  const view = (rest: Partial<PublicPage['page']> = {}, label = 'Booking site') =>
    ({
      page: { ...PLAIN_SETTINGS, title: 'Tern Island <Ferries>', ...rest },
      ...{ now: NOW, zone: 'UTC', days: 90, range: { from: NOW - 90 * DAY_MS, to: NOW } },
      ...{ open: [], notices: [], past: [], coming: [], lookedAt: NOW },
      sections: [
        { title: '', rows: [{ label, state: 'out', line: [{ from: NOW - DAY_MS, to: NOW, kind: 'out' }] }] },
      ],
    }) as unknown as PublicPage;

  it('draws how a page stands, by day and by night, in its colour', async () => {
    const svg = socialSvg(view(), letters);
    expect(svg).toContain('<title>Tern Island &lt;Ferries&gt;</title>');
    expect(svg).toContain('class="out"');
    const size = await sharp(await pngOf(svg)).metadata();
    expect([size.format, size.width, size.height]).toEqual(['png', SOCIAL_SIZE.wide, SOCIAL_SIZE.high]);
    expect(socialSvg(view({ theme: 'dark' }), letters)).toContain('#131a25');
    expect(socialSvg(view({ accent: '#7a1fa2' }), letters)).toContain('.a{fill:#7a1fa2}');
    // What could not be read on the ground is not what it is written in.
    expect(socialSvg(view({ accent: '#ffffff' }), letters)).not.toContain('.a{fill:#ffffff}');
  });

  it('stays within the picture, whatever a page is called', () => {
    const far = Math.max(
      ...[
        ...socialSvg(view({ title: 'W'.repeat(200) }, 'Ferry '.repeat(60)), letters).matchAll(
          /[ML](\d+\.?\d*) /g,
        ),
      ].map(([, x]) => Number(x)),
    );
    expect(far).toBeLessThanOrEqual(SOCIAL_SIZE.wide - 40);
  });
});
