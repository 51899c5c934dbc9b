import { describe, expect, it } from 'vitest';
import { cleanCss } from '@/core/pages/own-css';

/** What is said of one declaration, if anything, and what is left of it. */
const declared = (declaration: string) => {
  const { css, problems } = cleanCss(`.lead{${declaration}}`);
  return { left: css, said: problems.map(({ message }) => message) };
};
/** What is said of a whole sheet. */
const said = (css: string) => cleanCss(css).problems.map(({ line, message }) => `${line}: ${message}`);

describe('a page’s own rules, one by one', () => {
  it.each([
    ...['color:red', 'color:rgb(0 0 0/50%)', 'color:RGBA(1,2,3,.5)', 'color:light-dark(red,#fff)'],
    ...['background-color:transparent', 'border-top-color:transparent', 'border:1px solid rgb(0 0 0/.5)'],
    ...['margin-top:200px', 'margin-bottom:20em', 'padding:0', 'padding-inline-start:20vw', 'gap:20%'],
    ...['letter-spacing:.1em', 'font-size:11px', 'font-size:.7rem', 'font-size:70%', 'font-size:9pt'],
    ...[
      'font-size:clamp(1rem,2vw,2rem)',
      'font-size:calc(1rem + 1vw)',
      'font-size:larger',
      'font-weight:700',
    ],
    ...['line-height:.9', 'line-height:5', 'line-height:90%', 'line-height:11px', 'line-height:normal'],
    ...['max-width:900px', 'max-width:60ch', 'max-width:calc(100% - 20px)', 'padding:5cm', 'padding:2in'],
    ...['text-underline-offset:-1px', 'box-shadow:-2px 0 4px #0003', 'text-align:center'],
  ])('%s stays', (declaration) => {
    expect(declared(declaration)).toEqual({ left: `.lead{${declaration}}`, said: [] });
  });

  const LARGE = (got: string) => `Expected at most 200px, got “${got}”.`;
  const SMALL = (got: string) => `Expected letters that can be read, got “${got}”.`;
  const NEGATIVE = 'Expected no negative space.';
  const SUMS = (got: string) => `Expected sums alone, got “${got}”.`;
  const FETCHED = 'Nothing may be fetched, and no text be put in.';
  it.each([
    ['margin-top:201px', LARGE('201px')],
    ['padding:21em', LARGE('21em')],
    ['padding:6cm', LARGE('6cm')],
    ['gap:3in', LARGE('3in')],
    ['margin:21%', LARGE('21%')],
    ['border-width:300px', LARGE('300px')],
    ['font-size:21vw', LARGE('21vw')],
    ['font-size:10px', SMALL('10px')],
    ['font-size:.6em', SMALL('.6em')],
    ['font-size:69%', SMALL('69%')],
    ['font-size:8pt', SMALL('8pt')],
    ['font-size:1mm', SMALL('1mm')],
    ['font-size:1Q', SMALL('1Q')],
    ['font-size:0', SMALL('0')],
    ['font-size:min(1rem,0px)', SMALL('0px')],
    ['line-height:0', SMALL('0')],
    ['line-height:50%', SMALL('50%')],
    ['line-height:10px', SMALL('10px')],
    ['line-height:9', 'Expected lines at most 5 times as high as letters, got “9”.'],
    ['color:transparent', SMALL('transparent')],
    ['color:color-mix(in srgb,red,Transparent)', SMALL('transparent')],
    ['margin-top:-1px', NEGATIVE],
    ['padding:-1px', NEGATIVE],
    ['letter-spacing:-1em', NEGATIVE],
    ['gap:-5%', NEGATIVE],
    ['margin-top:calc(0px - 150px)', SUMS('-')],
    ['padding:calc(100px*100)', SUMS('*')],
    ['border-width:calc(100px*100)', SUMS('*')],
    ['border:max(1px,(2px - 1px)) solid rgb(0 0 0/.5)', SUMS('-')],
    ['font-size:calc(11px/11)', SUMS('/')],
    ['color:expression(1)', /^Expected no function but rgb, rgba, .*, color-mix, got “expression”\.$/],
    ['background-color:url(x)', FETCHED],
    ['text-decoration:"x"', FETCHED],
    ['color:red!important', 'Expected no “!important”.'],
    ['background:red', '“background” is not for a page to set.'],
    ['margin-left:1px', '“margin-left” is not for a page to set.'],
    ['font-family:x', '“font-family” is not for a page to set.'],
    ['--paper:red', '“--paper” is not for a page to set.'],
  ])('%s is let go of, and why is said', (declaration, message) => {
    const { left, said: told } = declared(`${declaration};color:red`);
    expect(left).toBe('.lead{color:red}');
    expect(told).toEqual([typeof message === 'string' ? message : expect.stringMatching(message)]);
  });

  it.each([
    ['.lead a:hover{color:red}', '.lead a:hover{color:red}'],
    [
      '.lead:focus-visible,.foot p:first-child{color:red}',
      '.lead:focus-visible,.foot p:first-child{color:red}',
    ],
    ['/* by hand */.lead{/* too */color:red}', '.lead{color:red}'],
    ['@media print{.lead{color:red}}', '@media print{.lead{color:red}}'],
    [
      '@media screen and (min-width:600px) and (prefers-contrast:more){.lead{color:red}}',
      '@media screen and (min-width:600px) and (prefers-contrast:more){.lead{color:red}}',
    ],
  ])('%s is taken', (css, left) => {
    expect(cleanCss(css)).toEqual({ css: left, problems: [] });
  });

  const ELEMENTS = 'Expected a class or one of a, h1, h2, h3, p, small, strong, got';
  const STATES = 'Expected one of :hover, :focus-visible, :first-child, :last-child, got';
  const ALONE = 'Expected classes and elements alone, got';
  const NAMED = 'Expected a class in it, so that nothing else is meant.';
  const MEDIA = 'Expected no rule but @media for print, width or light, got';
  it.each([
    ['.gull{color:red}', '1: There is no class “gull” to be styled.'],
    ['.constructor{color:red}', '1: There is no class “constructor” to be styled.'],
    ['.gull .tern{color:red}', '1: There is no class “gull” to be styled.'],
    ['.lead div{color:red}', `1: ${ELEMENTS} “div”.`],
    ['.lead:has(a){color:red}', `1: ${STATES} “:has”.`],
    ['.lead::before{color:red}', `1: ${ALONE} “::before”.`],
    ['.lead#x{color:red}', `1: ${ALONE} “#x”.`],
    ['.lead[href]{color:red}', `1: ${ALONE} “[href]”.`],
    ['.lead *{color:red}', `1: ${ELEMENTS} “*”.`],
    ['a{color:red}', `1: ${NAMED}`],
    ['p:hover{color:red}', `1: ${NAMED}`],
    ['\n@import "x";', `2: ${MEDIA} “@import”.`],
    ['@supports (color:red){.lead{color:red}}', `1: ${MEDIA} “@supports”.`],
    ['@media (hover:hover){.lead{color:red}}', `1: ${MEDIA} “@media”.`],
    ['@media print;', `1: ${MEDIA} “@media”.`],
    ['@media print and (height:1px){.lead{color:red}}', `1: ${MEDIA} “@media”.`],
    [`@${'x'.repeat(60)};`, `1: ${MEDIA} “@${'x'.repeat(40)}”.`],
  ])('%s is not', (css, message) => {
    expect(said(css)).toEqual([message]);
    expect(cleanCss(`${css}.foot{color:red}`).css).toMatch(/^(?:\.foot\{color:red\})?$/);
  });

  it('are told in the order of their lines, those that cannot be read among them', () => {
    const lines = said('.gull{color:red}\n.lead{color red}\n.tern{color:red}\n.lead{font-size:1px}');
    expect(lines.map((one) => one.split(':')[0])).toEqual(['1', '2', '2', '3', '4']);
    expect(lines[1]).toMatch(/^2: [A-Z].+\.$/);
  });
});
