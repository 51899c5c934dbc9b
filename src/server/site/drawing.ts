import type { Page } from '@/store/pages/pages';
import type { FeedPlace } from '@/site/files/feed';
import type { PageFile } from './asked';
import type { Drawn } from './copying/copies';
import {
  drawBadge,
  drawPrivateBadge,
  drawSocial,
  type BadgeAsk,
  type PrivateBadgeAsk,
} from '@/server/pictures/drawn';
import { drawEmbed, drawFile, drawSheet, type EmbedAsk, type SheetsWorld, type SheetWish } from './sheets';

/** Something that is to be drawn: of a page, or by itself. */
export type DrawAsk =
  | ({ page: Page } & (
      | { sheet: SheetWish }
      | { file: PageFile; place: FeedPlace }
      | { badge: BadgeAsk }
      | { embed: EmbedAsk }
      | { social: true }
    ))
  | { privately: PrivateBadgeAsk };

/** Draws it; null where the page has no such thing. */
export type Draw = (ask: DrawAsk) => Promise<Drawn | null>;

/** Draws within this thread. */
export function drawHere(world: SheetsWorld): Draw {
  return async (ask) => {
    if ('privately' in ask) return drawPrivateBadge(world, ask.privately);
    const { page } = ask;
    if ('sheet' in ask) return drawSheet(world, page, ask.sheet);
    if ('file' in ask) return drawFile(world, page, ask.file, ask.place);
    if ('badge' in ask) return drawBadge(world, page, ask.badge);
    if ('social' in ask) return drawSocial(world, page);
    return drawEmbed(world, page, ask.embed);
  };
}
