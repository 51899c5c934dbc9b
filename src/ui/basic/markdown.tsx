import MarkdownIt from 'markdown-it';

/** CommonMark without HTML; addresses that would run code are refused by the parser itself. */
const renderer = new MarkdownIt('commonmark', { html: false, linkify: false }).disable(['image']);

/** Markdown from the desk, shown to the public. */
export function Markdown({ text }: { text: string }) {
  return <div className="prose-small" dangerouslySetInnerHTML={{ __html: renderer.render(text) }} />;
}
