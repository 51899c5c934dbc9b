import { describe, expect, it } from 'vitest';
import { Pattern, patternProblem } from '@/core/expect/pattern';

describe('patterns', () => {
  it('are refused where a few letters unfold to a large machine', () => {
    expect(patternProblem('(?i)(.{1,1000}){1,1}z')).toContain(
      'it unfolds to 2004 steps, and 500 are allowed',
    );
    expect(patternProblem('(a{1,50}){1,20}')).toContain('lower its repetitions');
    for (const usual of [
      'booking (open|closed)',
      'value="([^"]+)"',
      '\\d{4}-\\d\\d-\\d\\d',
      '[\\w.]{1,60}@tern\\.test',
    ]) {
      expect(patternProblem(usual)).toBeNull();
    }
  });

  it('search as much of a text as takes about a second, and say how much that is', () => {
    const large = Pattern.of('(?i)(.{1,100})z');
    expect(large.reach).toBeGreaterThan(50_000);
    expect(large.isIn(`${'a'.repeat(large.reach - 1)}z`)).toBe(true);
    expect(large.isIn(`${'a'.repeat(large.reach)}z`)).toBe(false);
    expect(Pattern.of('tern').reach).toBeGreaterThan(1_000_000);
  });
});
