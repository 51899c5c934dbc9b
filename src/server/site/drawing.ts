import type { Page } from '@/store/pages/pages';
import type { FeedPlace } from '@/site/files/feed';
import type { PageFile } from './asked';
import type { Drawn } from './copies';
import {
  drawBadge,
  drawEmbed,
  drawFile,
  drawSheet,
  type BadgeAsk,
  type EmbedAsk,
  type SheetsWorld,
  type SheetWish,
} from './sheets';

/** Something of a page that is to be drawn. */
export type DrawAsk = { page: Page } & (
  { sheet: SheetWish } | { file: PageFile; place: FeedPlace } | { badge: BadgeAsk } | { embed: EmbedAsk }
);

/** Draws it; null where the page has no such thing. */
export type Draw = (ask: DrawAsk) => Promise<Drawn | null>;

/** Draws within this thread. */
export function drawHere(world: SheetsWorld): Draw {
  return ({ page, ...ask }) => {
    if ('sheet' in ask) return drawSheet(world, page, ask.sheet);
    if ('file' in ask) return drawFile(world, page, ask.file, ask.place);
    if ('badge' in ask) return drawBadge(world, page, ask.badge);
    return drawEmbed(world, page, ask.embed);
  };
}
