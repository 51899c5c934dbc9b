import type { KeptDelivery } from '@/store/messages/sent';

export const OUTCOME_TEXT: Record<KeptDelivery['state'], string> = {
  delivered: 'delivered',
  waiting: 'on its way',
  'given-up': 'given up',
};
