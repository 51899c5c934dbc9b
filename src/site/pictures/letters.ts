import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import opentype, { type Font, type PathCommand } from 'opentype.js';

/** The letters pictures are written with: to read, to read strongly, and to lead. */
export const FACES = ['reading', 'strong', 'leading'] as const;
export type Face = (typeof FACES)[number];

/** Texts as shapes, for pictures that are looked at where no letters of ours are. */
export interface Letters {
  /** How wide a text is at so many pixels to the em. */
  widthOf: (text: string, size: number, face: Face) => number;
  /** Its shape, beginning at x on the line y (path data of SVG). */
  shapeOf: (text: string, at: { x: number; y: number }, size: number, face: Face) => string;
}

const round = (n: number) => String(Math.round(n * 100) / 100);

/** Path data of SVG 1.1, section 8.3. */
function pathData(commands: readonly PathCommand[]): string {
  return commands
    .map((one) => {
      switch (one.type) {
        case 'M':
        case 'L':
          return `${one.type}${round(one.x)} ${round(one.y)}`;
        case 'Q':
          return `Q${[one.x1, one.y1, one.x, one.y].map(round).join(' ')}`;
        case 'C':
          return `C${[one.x1, one.y1, one.x2, one.y2, one.x, one.y].map(round).join(' ')}`;
        case 'Z':
          return 'Z';
      }
    })
    .join('');
}

/** A text in pieces that one font has all letters of; what none has is left to the first, which draws a box. */
function piecesOf(text: string, fonts: readonly Font[]): { font: Font; piece: string }[] {
  const pieces: { font: Font; piece: string }[] = [];
  for (const letter of text) {
    const font = fonts.find((one) => one.charToGlyphIndex(letter) > 0) ?? fonts[0]!;
    const last = pieces.at(-1);
    if (last?.font === font) last.piece += letter;
    else pieces.push({ font, piece: letter });
  }
  return pieces;
}

function readFont(file: string): Font {
  const bytes = readFileSync(file);
  return opentype.parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length) as ArrayBuffer);
}

/** The letters that ship, read from a folder of theirs when they are first needed. */
export function openLetters(folder: string): Letters {
  const read = new Map<Face, Font[]>();
  const fontsOf = (face: Face): Font[] => {
    let fonts = read.get(face);
    if (!fonts) {
      fonts = ['latin', 'latin-ext'].map((part) => readFont(join(folder, `${face}-${part}.woff`)));
      read.set(face, fonts);
    }
    return fonts;
  };
  return {
    widthOf: (text, size, face) =>
      piecesOf(text, fontsOf(face)).reduce(
        (sum, { font, piece }) => sum + font.getAdvanceWidth(piece, size),
        0,
      ),
    shapeOf: (text, at, size, face) => {
      let { x } = at;
      return piecesOf(text, fontsOf(face))
        .map(({ font, piece }) => {
          const shape = pathData(font.getPath(piece, x, at.y, size).commands);
          x += font.getAdvanceWidth(piece, size);
          return shape;
        })
        .join('');
    },
  };
}

/** A text in lines no wider than that; what has no room on the last of them ends in dots. */
export function inLines(
  { widthOf }: Pick<Letters, 'widthOf'>,
  text: string,
  { size, face, wide, most }: { size: number; face: Face; wide: number; most: number },
): string[] {
  const fits = (line: string) => widthOf(line, size, face) <= wide;
  const lines: string[] = [];
  for (const word of text.split(/\s+/).filter(Boolean)) {
    const last = lines.at(-1);
    if (last !== undefined && fits(`${last} ${word}`)) lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(word);
  }
  const shown = lines.slice(0, most);
  const cut = lines.length > most;
  return shown.map((line, i) => {
    const dots = cut && i === most - 1 ? '…' : '';
    if (fits(`${line}${dots}`)) return `${line}${dots}`;
    const kept = [...line];
    while (kept.length > 1 && !fits(`${kept.join('')}…`)) kept.pop();
    return `${kept.join('').trimEnd()}…`;
  });
}
