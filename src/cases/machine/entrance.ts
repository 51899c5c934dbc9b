import { asks } from '@/cases/frame/use-case';

const LISTS = [
  'watches',
  'deleted-watches',
  'outages',
  'sections',
  'tags',
  'filters',
  'channels',
  'deliveries',
  'pages',
  'incidents',
  'windows',
  'tokens',
  'deeds',
  'shared-settings',
  'own-line',
  'storage',
  'mail-reports',
  'events',
  'openapi.json',
];

/** Where everything begins. */
export const getEntrance = asks(
  'getEntrance',
  'look',
  async (_, { base }: { base: string }): Promise<{ links: Record<string, string> }> => ({
    links: {
      ...Object.fromEntries(LISTS.map((name) => [name, `${base}/api/v1/${name}`])),
      reference: `${base}/reference`,
    },
  }),
);

/** What changes is told to whoever listens; the front door holds the stream. */
export const followEvents = asks('followEvents', 'look', async (): Promise<void> => undefined);

/** The API as a document. */
export const getDocument = asks(
  'getDocument',
  'look',
  async (_, { document }: { document: () => object }): Promise<object> => document(),
);
