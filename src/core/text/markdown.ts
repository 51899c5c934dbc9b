import MarkdownIt from 'markdown-it';

/** CommonMark without HTML; addresses that would run code are refused by the parser itself. */
const renderer = new MarkdownIt('commonmark', { html: false, linkify: false }).disable(['image']);

/** Markdown from the desk as HTML that holds nothing but text and links. */
export function renderMarkdown(text: string): string {
  return renderer.render(text);
}

/** The same on one line, without any marks: for titles, feeds and previews. */
export function plainMarkdown(text: string): string {
  const words = (tokens: ReturnType<typeof renderer.parse>): string[] =>
    tokens.flatMap((token) => {
      if (token.children) return words(token.children);
      if (token.type === 'softbreak' || token.type === 'hardbreak') return [' '];
      if (['text', 'code_inline', 'fence', 'code_block'].includes(token.type)) return [token.content];
      return token.type.endsWith('_close') && token.block ? [' '] : [];
    });
  return words(renderer.parse(text, {})).join('').replace(/\s+/g, ' ').trim();
}
