import { describe, expect, it } from 'vitest';
import { pageAddress, pageName } from '@/core/pages/page-address';

describe('where a page is found', () => {
  const DESK = 'https://lantern.ternferry.test';
  const page = { slug: 'ferries', audience: 'everyone' as const, secret: null, host: null };

  it('is below the desk’s own, with its secret where that is what opens it', () => {
    expect(pageAddress(DESK, page)).toBe(`${DESK}/p/ferries/`);
    const secret = 'k3Jq';
    expect(pageAddress(DESK, { ...page, audience: 'link', secret })).toBe(`${DESK}/p/ferries.k3Jq/`);
    // One that was for who has the link keeps its secret, and does not tell it while it is for others.
    expect(pageName({ ...page, secret })).toBe('ferries');
    expect(pageName({ ...page, audience: 'link' })).toBe('ferries');
  });

  it('is a name of its own, as encrypted as the desk', () => {
    const own = { ...page, host: 'status.ternferry.test' };
    expect(pageAddress(DESK, own)).toBe('https://status.ternferry.test/');
    expect(pageAddress('http://https.ternferry.test', own)).toBe('http://status.ternferry.test/');
  });
});
