/** How much a trouble of a watch matters; what is for any hour passes quiet hours that let the urgent through. */
export const URGENCIES = ['can-wait', 'soon', 'any-hour'] as const;
export type Urgency = (typeof URGENCIES)[number];

export const URGENCY_WORDS: Readonly<Record<Urgency, string>> = {
  'can-wait': 'can wait',
  soon: 'soon',
  'any-hour': 'at any hour',
};
