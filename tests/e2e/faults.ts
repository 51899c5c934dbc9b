import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { expect, type Page } from '@playwright/test';

const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

interface AxeResult {
  passes: unknown[];
  violations: { id: string; impact: string; nodes: { html: string; failureSummary: string }[] }[];
}

/** Faults axe calls serious or critical, in words; of all its rules, or of some. */
export async function seriousFaults(page: Page, rules: string[] = []): Promise<string[]> {
  await page.evaluate(AXE);
  const result = await page.evaluate(async (only) => {
    const { axe } = window as unknown as {
      axe: { run: (within: Document, options: object) => Promise<AxeResult> };
    };
    return axe.run(document, only.length > 0 ? { runOnly: only } : {});
  }, rules);
  // A run that found nothing to check would find no fault either.
  expect(result.passes.length).toBeGreaterThanOrEqual(rules.length || 11);
  return result.violations
    .filter((v) => v.impact === 'serious' || v.impact === 'critical')
    .map((v) => `${v.id}: ${v.nodes.map((n) => `${n.html} ${n.failureSummary}`).join('\n')}`);
}
