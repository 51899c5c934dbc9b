'use client';

import { useEffect } from 'react';

/** Opens the entry the address points at, also when that changes: what is folded away cannot be read. */
export function OpenTarget() {
  useEffect(() => {
    const open = () => {
      const entry = document.getElementById(decodeURIComponent(window.location.hash.slice(1)));
      if (entry instanceof HTMLDetailsElement) entry.open = true;
      entry?.scrollIntoView();
    };
    open();
    window.addEventListener('hashchange', open);
    return () => window.removeEventListener('hashchange', open);
  }, []);
  return null;
}
