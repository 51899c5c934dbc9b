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
/** Letters of at least this size can be read, and spaces of at most this one push nothing off the page. */
const MOST_PX = 200;

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
      if (!(node.name in CLASS_NAMES)) problem ??= `There is no class “${node.name}” to be styled`;
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

function valueProblem(property: string, value: csstree.CssNode): string | null {
  let problem: string | null = null;
  walk(value, (node) => {
    if (node.type === 'Url' || node.type === 'Raw' || node.type === 'String') {
      problem ??= 'Nothing may be fetched, and no text be put in';
    } else if (node.type === 'Function' && !FUNCTIONS.includes(node.name.toLowerCase())) {
      problem ??= `Expected no function but ${FUNCTIONS.join(', ')}, got “${node.name}”`;
    } else if (node.type === 'Dimension' || node.type === 'Number' || node.type === 'Percentage') {
      const number = Number(node.value);
      const isLength = property.startsWith('margin') || property === 'letter-spacing';
      if (number < 0 && (isLength || property.startsWith('padding')))
        problem ??= 'Expected no negative space';
      if (
        node.type === 'Dimension' &&
        number > (node.unit === 'px' ? MOST_PX : 20) &&
        property !== 'max-width'
      )
        problem ??= `Expected at most ${MOST_PX}px, got “${generate(node)}”`;
      if (property === 'font-size' && node.type === 'Dimension' && number < (node.unit === 'px' ? 11 : 0.7))
        problem ??= `Expected letters that can be read, got “${generate(node)}”`;
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
