import type { PageSpeech } from '@/core/languages/page-speech';
import type { PublicKind } from './public-line';

/** What of a public page there is to say: how each service on it stands. */
export interface LeadFacts {
  rows: readonly { label: string; state: PublicKind }[];
  openIncidents: number;
}

const MOST_NAMED = 2;
const TOLD = ['out', 'partly', 'slow', 'maintenance'] as const;

/** The public page's leading sentence. It never says that everything runs where something is known not to. */
export function leadSentence({ rows, openIncidents }: LeadFacts, { say, list, counted }: PageSpeech): string {
  if (rows.length === 0) return say('lead.nothing');
  const labels = (state: PublicKind) => rows.filter((row) => row.state === state).map((row) => row.label);
  const said = TOLD.flatMap((kind) => {
    const names = labels(kind);
    if (names.length === 0) return [];
    if (names.length > MOST_NAMED) return [say(`lead.${kind}.many`, { count: counted(names.length) })];
    return [say(`lead.${kind}`, { n: names.length, names: list(names) })];
  });
  const [running, unknown] = [labels('running').length, labels('unknown').length];
  // In a bad moment one sentence is enough; the rest stands below it.
  if (said.length > 1) return said.slice(0, 2).join(' ');
  if (said.length === 1) {
    return running > 0 && unknown === 0 && openIncidents === 0 ? `${said[0]} ${say('lead.rest')}` : said[0]!;
  }
  if (openIncidents > 0) return say('lead.incidents', { n: openIncidents, count: counted(openIncidents) });
  if (running === 0) return say('lead.unknown');
  return say(unknown > 0 ? 'lead.known' : 'lead.running');
}
