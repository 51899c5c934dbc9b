import type { PageSpeech } from '@/core/languages/page-speech';
import { totalOf } from '@/core/history/spans';
import type { PublicStretch } from './public-line';

const TOLD = ['out', 'partly', 'slow', 'maintenance', 'unknown'] as const;

/** A line in words, for those who cannot see it: "out for 12 min; running otherwise". */
export function publicWords(line: readonly PublicStretch[], { say, length }: PageSpeech): string {
  const parts = TOLD.flatMap((kind) => {
    const total = totalOf(line.filter((stretch) => stretch.kind === kind));
    return total > 0 ? [say(`line.part.${kind}`, { length: length(total) })] : [];
  });
  const ran = line.some((stretch) => stretch.kind === 'running');
  if (parts.length === 0) return say(ran ? 'line.always' : 'line.none');
  return ran ? say('line.otherwise', { parts: parts.join(', ') }) : parts.join(', ');
}
