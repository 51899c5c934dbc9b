import { boolean } from 'yup';
import { toneOf } from '@/core/messages/tone';
import * as f from '@/core/settings/fields';
import { settingsOf } from '@/channels/frame/fields';
import { NO_HOUSE } from '@/channels/frame/house';
import type { ChannelKind } from '@/channels/frame/kind';

export interface DeskSettings {
  sound: boolean;
}

/** This desk itself: a notice wherever it is open. Nobody answers it, so that nothing of it is tried again. */
export const desk: ChannelKind<DeskSettings> = {
  id: 'desk',
  title: 'this desk',
  help: 'A notice in every window this desk is open in; with a sound where somebody is to look up.',
  schema: settingsOf<DeskSettings>({
    sound: boolean().default(false).meta({ description: 'Whether it is to be heard, too.' }),
  }),
  fields: [
    f.toggle(
      'sound',
      'With a sound',
      'Two quiet notes. Browsers play them once somebody has clicked in the window.',
    ),
  ],
  shown: ({ sound }) => (sound ? 'open windows of this desk, with a sound' : 'open windows of this desk'),
  send: async ({ sound }, { id, title, lines, link, event, at }, _, house = NO_HOUSE) => {
    house.notify({ id, title, lines, link, tone: toneOf(event), sound, at });
    return { ok: true, retry: false, said: 'shown in what is open' };
  },
};
