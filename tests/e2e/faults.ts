import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { expect, type Page } from '@playwright/test';

const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

interface Axe {
  run: (
    within: Document | { include: string[] },
    options: object,
  ) => Promise<{
    passes: unknown[];
    violations: { id: string; impact: string; nodes: { html: string; failureSummary: string }[] }[];
  }>;
}

/** Faults axe calls serious or critical, in words; of all its rules, or of some; on the page, or on parts of it. */
export async function seriousFaults(
  page: Page,
  rules: string[] = [],
  parts: string[] = [],
): Promise<string[]> {
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(AXE);
  // What passed is counted where it is found: told in full, it would be most of what is sent.
  const look = async ({ only, within }: { only: string[]; within: string[] }) => {
    const { axe } = window as unknown as { axe: Axe };
    const { passes, violations } = await axe.run(within.length > 0 ? { include: within } : document, {
      resultTypes: ['violations'],
      preload: false,
      ...(only.length > 0 && { runOnly: only }),
    });
    const faults = violations
      .filter((v) => v.impact === 'serious' || v.impact === 'critical')
      .map((v) => `${v.id}: ${v.nodes.map((n) => `${n.html} ${n.failureSummary}`).join('\n')}`);
    return { faults, passed: passes.length };
  };
  const found = await page.evaluate(look, { only: rules, within: parts });
  // A run that found nothing to check would find no fault either.
  expect(found.passed).toBeGreaterThanOrEqual(rules.length || 11);
  return found.faults;
}
