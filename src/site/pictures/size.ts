/** What other sites show of an address, by the size most of them take, in pixels. */
export const SOCIAL_SIZE = { wide: 1200, high: 630 } as const;
