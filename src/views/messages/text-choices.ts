import { SAID_TITLES, TEXT_HAPPENINGS } from '@/core/messages/said-titles';
import type { Db } from '@/store/db/connection';
import { fetchChannels } from '@/store/messages/channels';

/** What a text of one's own can be for: where it is said, and of what. */
export interface TextChoices {
  channels: { id: number; name: string }[];
  happenings: { value: string; text: string }[];
}

export async function fetchTextChoices(db: Db): Promise<TextChoices> {
  return {
    channels: (await fetchChannels(db)).map(({ id, name }) => ({ id, name })),
    happenings: TEXT_HAPPENINGS.map((value) => ({ value, text: SAID_TITLES[value] })),
  };
}
