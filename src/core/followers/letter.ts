import type { Language } from '@/core/languages/language';
import type { PagePhrase } from '@/core/languages/page-phrases/en';
import { pageSpeechOf } from '@/core/languages/page-speech';
import type { Affected, Stage } from '@/core/pages/incident';
import { forHtml } from '@/core/messages/safe-text';
import { plainMarkdown, renderMarkdown } from '@/core/text/markdown';

/** Of what was told ahead, a change is told too, and that it does not come. */
export const WINDOW_STAGES = ['ahead', 'moved', 'off', 'begins', 'ends'] as const;
export type WindowStage = (typeof WINDOW_STAGES)[number];

/** What a letter to a follower tells. */
export type LetterFacts =
  | {
      kind: 'incident';
      notice: boolean;
      title: string;
      stage: Stage;
      /** Markdown. */
      body: string;
      affected: { label: string; how: Affected }[];
      at: number;
    }
  | {
      kind: 'maintenance';
      stage: WindowStage;
      title: string;
      /** Markdown. */
      text: string;
      labels: string[];
      begins: number;
      ends: number;
    }
  /** Asks whether a mailbox wants to follow, or shows who follows already where to change that. */
  | { kind: 'confirm' }
  | { kind: 'again' };

/** Where its links lead. */
export interface LetterLinks {
  /** What it tells of, or the page. */
  about: string;
  /** Where one says yes, or changes what one hears. */
  own: string;
  /** Where one ends it with one click (RFC 8058). */
  off: string;
}

export interface LetterPlace {
  page: string;
  language: Language;
  zone: string;
  links: LetterLinks;
}

export interface LetterText {
  subject: string;
  text: string;
  html: string;
}

const WINDOW_PHRASES: Record<WindowStage, PagePhrase> = {
  ahead: 'letter.window.ahead',
  moved: 'letter.window.moved',
  off: 'letter.window.off',
  begins: 'letter.window.begins',
  ends: 'letter.window.ends',
};

const P = 'style="font-family:sans-serif;font-size:15px;margin:0 0 10px"';

function asHtml(title: string, parts: readonly string[]): string {
  const head = `<p style="font-family:Georgia,serif;font-size:20px;margin:0 0 12px">${forHtml(title)}</p>`;
  return [head, ...parts].join('\n');
}

const paragraph = (text: string) => `<p ${P}>${forHtml(text)}</p>`;
const link = (address: string, text: string) =>
  `<p ${P}><a href="${forHtml(address)}">${forHtml(text)}</a></p>`;

/** A letter in the words of one language. What a person wrote is Markdown, and stays without HTML of its own. */
export function composeLetter(facts: LetterFacts, { page, language, zone, links }: LetterPlace): LetterText {
  const { say, at, list } = pageSpeechOf(language);
  if (facts.kind === 'confirm' || facts.kind === 'again') {
    const asks = facts.kind === 'confirm';
    const subject = say(asks ? 'letter.confirm.subject' : 'letter.again.subject', { page });
    const line = say(asks ? 'letter.confirm.line' : 'letter.again.line', { page });
    const last = say('letter.confirm.else');
    return {
      subject,
      text: [line, '', links.own, '', last, ''].join('\n'),
      html: asHtml(subject, [paragraph(line), link(links.own, links.own), paragraph(last)]),
    };
  }
  const [head, words, touched] =
    facts.kind === 'incident'
      ? [
          facts.notice
            ? at(facts.at, zone, 'moment')
            : `${say(`stage.${facts.stage}`)} (${at(facts.at, zone, 'moment')})`,
          facts.body,
          facts.affected.map(({ label, how }) => `${label}: ${say(`how.${how}`)}`),
        ]
      : [
          say(WINDOW_PHRASES[facts.stage], {
            from: at(facts.begins, zone, 'moment'),
            to: at(facts.ends, zone, 'moment'),
          }),
          facts.stage === 'ends' || facts.stage === 'off' ? '' : facts.text,
          facts.labels.length > 0 ? [list(facts.labels)] : [],
        ];
  const why = say('letter.why', { page });
  return {
    subject: `${facts.title} · ${page}`,
    text: [
      ...[facts.title, '', head, ''],
      ...(words === '' ? [] : [plainMarkdown(words), '']),
      ...(touched.length === 0 ? [] : [...touched, '']),
      ...[
        links.about,
        '',
        '-- ',
        why,
        `${say('letter.change')}: ${links.own}`,
        `${say('letter.off')}: ${links.off}`,
        '',
      ],
    ].join('\n'),
    html: asHtml(facts.title, [
      paragraph(head),
      ...(words === '' ? [] : [`<div ${P}>${renderMarkdown(words)}</div>`]),
      ...touched.map(paragraph),
      link(links.about, links.about),
      paragraph(why),
      link(links.own, say('letter.change')),
      link(links.off, say('letter.off')),
    ]),
  };
}
