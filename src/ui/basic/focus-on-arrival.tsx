'use client';

import { usePathname } from 'next/navigation';
import { useEffect, useRef } from 'react';

/**
 * After a save that leads to another screen, the focus goes to that screen's leading sentence: else it would be lost with
 * the button that was pressed, and nothing would be read out.
 */
export function FocusOnArrival() {
  const path = usePathname();
  const before = useRef(path);
  useEffect(() => {
    if (before.current === path) return;
    before.current = path;
    const { activeElement } = document;
    if (activeElement && activeElement !== document.body && activeElement.isConnected) return;
    const heading = document.querySelector<HTMLElement>('main h1');
    if (!heading) return;
    heading.tabIndex = -1;
    heading.style.outline = 'none';
    heading.focus({ preventScroll: true });
  }, [path]);
  return null;
}
