import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { colourText, contrastOf, inkOn, readableOn, readColour, type Rgb } from '@/core/pages/colour';
import { accentsOf, GROUNDS, lookCss } from '@/core/pages/look';
import { CLASS_NAMES } from '@/core/pages/class-names';
import { cleanCss } from '@/core/pages/own-css';
import { tries } from '../tries';

const colour = fc.tuple(
  fc.nat({ max: 255 }),
  fc.nat({ max: 255 }),
  fc.nat({ max: 255 }),
) as fc.Arbitrary<Rgb>;

describe('colours', () => {
  it('are read as hex, long and short', () => {
    expect([readColour('#1f6e6A'), readColour('#fff'), readColour('teal'), readColour('#12345')]).toEqual([
      [31, 110, 106],
      [255, 255, 255],
      null,
      null,
    ]);
    expect(colourText([31, 110, 106])).toBe('#1f6e6a');
    for (const wrong of ['x#fff', '#fffx', 'x#1f6e6a', '#1f6e6ax', '#gff', '#fgf', '#ffg', '#1g6e6a'])
      expect(readColour(wrong), wrong).toBe(null);
  });

  it('stand out as WCAG says', () => {
    expect(contrastOf([0, 0, 0], [255, 255, 255])).toBeCloseTo(21, 5);
    expect(contrastOf([119, 119, 119], [255, 255, 255])).toBeCloseTo(4.48, 2);
    expect([inkOn([255, 255, 0]), inkOn([0, 0, 128])]).toEqual([
      [0, 0, 0],
      [255, 255, 255],
    ]);
  });

  it('are changed until they can be read, and left alone where they can', () => {
    fc.assert(
      fc.property(colour, fc.constantFrom(GROUNDS.light, GROUNDS.dark), (chosen, ground) => {
        const shown = readableOn(chosen, ground);
        expect(contrastOf(shown, ground)).toBeGreaterThanOrEqual(4.5);
        if (contrastOf(chosen, ground) >= 4.5) expect(shown).toEqual([...chosen]);
      }),
    );
  });

  it('are told for day and night', () => {
    const [day, night] = accentsOf('#ffe066');
    expect(day).toMatchObject({ theme: 'light', contrast: 1.2 });
    expect(day!.shown).not.toBe('#ffe066');
    expect(night).toMatchObject({ theme: 'dark', shown: '#ffe066' });
    expect(accentsOf('none')).toEqual([]);
  });

  it('make a sheet of style only where there is something to it', () => {
    expect(lookCss({ accent: null }, '')).toBe('');
    expect(lookCss({ accent: null }, '.lead{color:red}')).toBe('.lead{color:red}');
    const [day, night] = accentsOf('#1f6e6a').map(({ shown }) => shown);
    expect(day).toBe('#1f6e6a');
    const dark = `{--accent:${night};--accent-ink:#000000}`;
    expect(lookCss({ accent: '#1f6e6a' }, '.lead{color:red}').split('\n')).toEqual([
      ':root{--accent:#1f6e6a;--accent-ink:#ffffff}',
      `@media (prefers-color-scheme:dark){:root:not([data-theme='light'])${dark}}`,
      `:root[data-theme='dark']${dark}`,
      '.brand a,.links a,[aria-current=true]{color:var(--accent)}',
      '.lead{color:red}',
    ]);
  });
});

describe('own rules of style', () => {
  const kept = (css: string) => {
    const { css: clean, problems } = cleanCss(css);
    expect(problems).toEqual([]);
    return clean;
  };

  it('may set letters, colours, borders and spaces of the documented classes', () => {
    expect(kept('.lead { color: #1f6e6a; letter-spacing: .02em }')).toBe(
      '.lead{color:#1f6e6a;letter-spacing:.02em}',
    );
    expect(kept('.service:hover a, .foot > p { padding: 4px 8px }')).toBe(
      '.service:hover a,.foot>p{padding:4px 8px}',
    );
    expect(kept('@media (prefers-color-scheme: dark) { .brand { color: white } }')).toContain('@media');
    expect(kept('')).toBe('');
    for (const name of Object.keys(CLASS_NAMES)) expect(kept(`.${name}{color:red}`)).toContain(name);
  });

  it.each([
    ['fetches', '.lead { background-color: url(http://evil.example/x) }'],
    ['fetches by another name', '.lead { background: url(http://evil.example/x) }'],
    ['imports', '@import "http://evil.example/x.css";'],
    ['brings letters along', '@font-face { font-family: x; src: url(x) }'],
    ['covers the page', '.lead { position: fixed; inset: 0 }'],
    ['hides', '.incident { display: none }'],
    ['makes invisible', '.incident { opacity: 0 }'],
    ['makes letters invisible', '.lead { color: transparent }'],
    ['makes letters too small', '.lead { font-size: 1px }'],
    ['pushes off the page', '.lead { margin-top: -9999px }'],
    ['pushes down', '.lead { padding: 90000px }'],
    ['puts text in', '.lead::before { content: "hacked" }'],
    ['reads what is typed', 'input[value^="a"] { color: red }'],
    ['means something else', 'body { color: red }'],
    ['means all', '* { color: red }'],
    ['means what is not documented', '.masthead .choices { color: red }'],
    ['insists', '.lead { color: red !important }'],
    ['runs', '.lead { color: expression(alert(1)) }'],
    ['runs in disguise', '.lead { color: e\\xpression(alert(1)) }'],
    ['fetches by a function', '.lead { color: image-set("x" 1x) }'],
    ['sets a variable', '.page { --paper: url(x) }'],
    ['ends the sheet', '.lead { color: red } </style><script>alert(1)</script>'],
    ['is broken', '.lead { color: red'.repeat(2)],
    ['moves by keyframes', '@keyframes x { to { color: red } }'],
    ['layers', '@layer x { .lead { color: red } }'],
    ['scales', '.lead { transform: scale(99) }'],
  ])('is refused where it %s', (_, css) => {
    const { problems, css: clean } = cleanCss(css);
    expect(problems.length).toBeGreaterThan(0);
    expect(problems[0]!.line).toBe(1);
    expect(clean).not.toMatch(/url|@import|fixed|none|script|expression|content|http|transform|--paper/);
  });

  it('are let go of after fifty faults, for a parser may find the same one without end', () => {
    const { css, problems } = cleanCss('.lead { color red }\n'.repeat(60));
    expect([css, problems.length, problems.at(-1)!.line]).toEqual(['', 50, 50]);
    expect(kept('.lead { color: red }')).toBe('.lead{color:red}');
  });

  it('names the line of what is wrong', () => {
    const { problems } = cleanCss('.lead { color: red }\n\n.gull { color: red }\n.foot { position: fixed }');
    expect(problems).toEqual([
      { line: 3, message: 'There is no class “gull” to be styled.' },
      { line: 4, message: '“position” is not for a page to set.' },
    ]);
  });

  it('never lets through what could fetch, whatever is typed', () => {
    const part = fc.constantFrom(
      ...[
        '.lead',
        '{',
        '}',
        'color',
        ':',
        'url(',
        'http://x',
        ')',
        ';',
        '@import',
        '"',
        "'",
        '\\',
        '/*',
        '*/',
        '<',
      ],
      ...['background-color', '!important', '@media print', ',', '\n', 'red'],
    );
    fc.assert(
      fc.property(fc.array(part, { maxLength: 25 }), (parts) => {
        const { css } = cleanCss(parts.join(''));
        expect(css).not.toMatch(/url\(|@import|</i);
      }),
      { numRuns: tries(500) },
    );
  });
});
