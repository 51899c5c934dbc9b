import type { IncidentKind, Stage } from '@/core/pages/incident';
import { fetchLabels } from '@/store/pages/shown';
import { publicIncident, type PublicIncident } from '@/views/pages/public-incidents';
import type { AffectedWatch } from '@/store/pages/incidents';
import { asks } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { readMoment } from '@/cases/schemas/common';
import { previewSchema } from '@/cases/schemas/incidents';
import { foundPage, pageAsSent } from './pages';

interface PreviewBody {
  pageId: number | null;
  page: Record<string, unknown> | null;
  incident: {
    title: string;
    kind: IncidentKind;
    stage: Stage;
    body: string;
    beganAt: string | null;
    affected: AffectedWatch[];
  } | null;
}

/**
 * A page as visitors would see it, with what is being typed of it or of an incident; drawn by what draws pages. It is
 * kept for a while for whoever asked, and nothing of it is published.
 */
export const previewPage = asks(
  'previewPage',
  'write',
  async ({ db, world, now, who }, { body }: { body: unknown }): Promise<{ path: string }> => {
    const sent = await validateBody<PreviewBody>(previewSchema, body);
    const before = sent.pageId === null ? null : await foundPage(db, sent.pageId);
    const content =
      sent.page === null && before
        ? before
        : await pageAsSent(db, sent.page ?? {}, { before, linkBase: world.place.linkBase });
    const page = { id: before?.id ?? 0, createdAt: before?.createdAt ?? now, ...content };
    let draft: PublicIncident | null = null;
    if (sent.incident) {
      const { title, kind, stage, body: text, beganAt, affected } = sent.incident;
      const update = { id: 0, at: now, stage, body: text, correctedAt: null };
      const incident = {
        ...{ id: 0, kind, title, affected, pageIds: [page.id], account: '', accountAt: null, outageId: null },
        ...{ began: readMoment(beganAt) ?? now, ended: null, updates: [update] },
      };
      draft = publicIncident(incident, await fetchLabels(db, page));
    }
    return { path: `/preview/${await world.previews.keep({ page, draft, who })}/` };
  },
);
