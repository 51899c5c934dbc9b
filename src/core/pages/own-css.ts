import type * as csstree from 'css-tree';
import generate from 'css-tree/generator';
import parse from 'css-tree/parser';
import walk from 'css-tree/walker';
import { CLASS_NAMES } from './class-names';

const ELEMENTS = ['a', 'h1', 'h2', 'h3', 'p', 'small', 'strong'];
const STATES = ['hover', 'focus-visible', 'first-child', 'last-child'];

/** What may be set: letters, colours, borders, spaces. Nothing that moves, hides or covers what stands there. */
const PROPERTY =
  /^(color|background-color|border(-(top|right|bottom|left|inline|block)(-(start|end))?)?(-(color|style|width))?|border-radius|padding(-(top|right|bottom|left|inline|block)(-(start|end))?)?|margin(-(top|bottom))?|gap|font-(size|weight|style|variant|stretch)|letter-spacing|line-height|text-(align|transform|decoration(-(color|style|line|thickness))?|underline-offset)|max-width|box-shadow)$/;
const FUNCTIONS = [
  'rgb',
  'rgba',
  'hsl',
  'hsla',
  'oklch',
  'var',
  'calc',
  'min',
  'max',
  'clamp',
  'light-dark',
  'color-mix',
];
const FEATURE = String.raw`\(\s*(?:prefers-color-scheme|prefers-contrast|(?:min-|max-)?width)\s*:\s*[\w.]+\s*\)`;
const MEDIA = new RegExp(`^(?:print|screen|${FEATURE})(?: and ${FEATURE})*$`);
/** The lengths that are the same everywhere, in pixels (CSS Values and Units, level 4, section 6.2). */
const ABSOLUTE_PX: Record<string, number> = {
  px: 1,
  pt: 96 / 72,
  pc: 16,
  q: 96 / 101.6,
  mm: 96 / 25.4,
  cm: 96 / 2.54,
  in: 96,
};
/** Letters of at least this size can be read, and spaces of at most this one push nothing off the page. */
const LEAST_LETTERS = { px: 11, relative: 0.7, percent: 70 };
const MOST = { px: 200, relative: 20, percent: 20 };
const LEAST_LINES = { px: 11, relative: 0.9, percent: 90 };
const MOST_LINES = 5;

export interface CssProblem {
  line: number;
  message: string;
}

export interface CleanCss {
  css: string;
  problems: CssProblem[];
}

const lineOf = (node: csstree.CssNode) => node.loc?.start.line ?? 1;

function selectorProblem(selector: csstree.CssNode): string | null {
  let problem: string | null = null;
  let named = false;
  walk(selector, (node) => {
    if (node.type === 'ClassSelector') {
      named = true;
      if (!Object.hasOwn(CLASS_NAMES, node.name)) problem ??= `There is no class “${node.name}” to be styled`;
    } else if (node.type === 'TypeSelector') {
      if (!ELEMENTS.includes(node.name))
        problem ??= `Expected a class or one of ${ELEMENTS.join(', ')}, got “${node.name}”`;
    } else if (node.type === 'PseudoClassSelector') {
      if (!STATES.includes(node.name))
        problem ??= `Expected one of :${STATES.join(', :')}, got “:${node.name}”`;
    } else if (!['Selector', 'SelectorList', 'Combinator'].includes(node.type)) {
      problem ??= `Expected classes and elements alone, got “${generate(node)}”`;
    }
  });
  return problem ?? (named ? null : 'Expected a class in it, so that nothing else is meant');
}

const REACHES_FAR = new Set(['-', '*', '/']);
/** Functions that reckon; in those of colours a slash stands before how much is seen through. */
const RECKONS = new Set(['calc', 'min', 'max', 'clamp']);
const SPACE = /^(?:margin|padding|gap|letter-spacing)/;

type Sized = csstree.Dimension | csstree.NumberNode | csstree.Percentage;

/** By what a size is judged, and how large it is by that. */
function measured(node: Sized): ['px' | 'relative' | 'percent', number] {
  const number = Number(node.value);
  if (node.type === 'Percentage') return ['percent', number];
  const unit = node.type === 'Dimension' ? node.unit.toLowerCase() : '';
  return Object.hasOwn(ABSOLUTE_PX, unit) ? ['px', number * ABSOLUTE_PX[unit]!] : ['relative', number];
}

/** What is wrong with a size: too small to be read, so large that it pushes others away, or drawn over them. */
function sizeProblem(property: string, node: Sized): string | null {
  const number = Number(node.value);
  const got = `got “${generate(node)}”`;
  if (number < 0 && SPACE.test(property)) return 'Expected no negative space';
  const [measure, size] = measured(node);
  const mayBeLarge = property === 'max-width' || node.type === 'Number';
  if (!mayBeLarge && (measure !== 'percent' || SPACE.test(property)) && size > MOST[measure])
    return `Expected at most ${MOST.px}px, ${got}`;
  const least = property === 'font-size' ? LEAST_LETTERS : property === 'line-height' ? LEAST_LINES : null;
  if (least === null) return null;
  if (size < least[measure]) return `Expected letters that can be read, ${got}`;
  return node.type === 'Number' && number > MOST_LINES
    ? `Expected lines at most ${MOST_LINES} times as high as letters, ${got}`
    : null;
}

function valueProblem(property: string, value: csstree.CssNode): string | null {
  let problem: string | null = null;
  walk(value, function (this: csstree.WalkContext, node) {
    const within = this.function?.name.toLowerCase() ?? '';
    if (node.type === 'Url' || node.type === 'Raw' || node.type === 'String') {
      problem ??= 'Nothing may be fetched, and no text be put in';
    } else if (node.type === 'Function' && !FUNCTIONS.includes(node.name.toLowerCase())) {
      problem ??= `Expected no function but ${FUNCTIONS.join(', ')}, got “${node.name}”`;
    } else if (
      node.type === 'Operator' &&
      REACHES_FAR.has(node.value.trim()) &&
      RECKONS.has(within) &&
      property !== 'max-width'
    ) {
      // What is taken away or multiplied is larger than any of its numbers.
      problem ??= `Expected sums alone, got “${node.value.trim()}”`;
    } else if (node.type === 'Dimension' || node.type === 'Number' || node.type === 'Percentage') {
      problem ??= sizeProblem(property, node);
    } else if (
      node.type === 'Identifier' &&
      node.name.toLowerCase() === 'transparent' &&
      property === 'color'
    ) {
      problem ??= 'Expected letters that can be read, got “transparent”';
    }
  });
  return problem;
}

/**
 * Reads a page's own rules against the documented classes. What could fetch, track, hide or cover is a problem with its
 * line; `css` holds what is left without it, written anew by the parser.
 */
export function cleanCss(text: string): CleanCss {
  try {
    return cleanedCss(text);
  } catch (error) {
    if (!(error instanceof TooManyProblems)) throw error;
    return { css: '', problems: error.problems };
  }
}

/** Nobody reads more; and on some broken texts the parser finds the same fault again and again, without end. */
const MOST_PROBLEMS = 50;

class TooManyProblems extends Error {
  constructor(readonly problems: CssProblem[]) {
    super('too many problems');
  }
}

function cleanedCss(text: string): CleanCss {
  const problems: CssProblem[] = [];
  const say = (node: csstree.CssNode, message: string) =>
    problems.push({ line: lineOf(node), message: `${message}.` });
  const tree = parse(text, {
    positions: true,
    parseCustomProperty: true,
    onParseError: ({ message, line }) => {
      problems.push({ line: Number(line ?? 1), message: `${message}.` });
      if (problems.length >= MOST_PROBLEMS) throw new TooManyProblems(problems);
    },
  });
  walk(tree, {
    enter(
      node: csstree.CssNode,
      item: csstree.ListItem<csstree.CssNode>,
      list: csstree.List<csstree.CssNode> | null,
    ) {
      const drop = (message: string) => {
        say(node, message);
        list?.remove(item);
        return walk.skip;
      };
      if (node.type === 'Atrule') {
        const asked = node.prelude ? generate(node.prelude).replace(/\)and\(/g, ') and (') : '';
        if (node.name === 'media' && MEDIA.test(asked) && node.block) return undefined;
        return drop(
          `Expected no rule but @media for print, width or light, got “@${node.name.slice(0, 40)}”`,
        );
      }
      if (node.type === 'Comment') {
        list?.remove(item);
        return undefined;
      }
      if (node.type === 'Rule') {
        const problem = selectorProblem(node.prelude);
        return problem === null ? undefined : drop(problem);
      }
      if (node.type === 'Declaration') {
        if (!PROPERTY.test(node.property)) return drop(`“${node.property}” is not for a page to set`);
        if (node.important) return drop('Expected no “!important”');
        const problem = valueProblem(node.property, node.value);
        return problem === null ? undefined : drop(problem);
      }
      if (node.type === 'Raw') return drop(`Expected a rule, got “${node.value.slice(0, 40)}”`);
      return undefined;
    },
  });
  return { css: generate(tree), problems: problems.sort((a, b) => a.line - b.line) };
}
