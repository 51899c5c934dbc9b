import { renderMarkdown } from '@/core/text/markdown';

/** Markdown from the desk, shown to the public. */
export function Markdown({ text }: { text: string }) {
  return <div className="prose-small" dangerouslySetInnerHTML={{ __html: renderMarkdown(text) }} />;
}
