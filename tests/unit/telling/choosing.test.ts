import { describe, expect, it } from 'vitest';
import { choosingSentence } from '@/core/telling/choosing';
import { goesBy, NO_WATCHES } from '@/core/telling/route';

describe('what chooses by a section or a tag', () => {
  it('is said by its names, the first three of many', () => {
    expect(choosingSentence({ routes: [], maintenance: [] })).toBe('');
    expect(choosingSentence({ routes: ['Night'], maintenance: [] })).toBe(
      'The route “Night” chooses watches by it, and will be about others without it, or about none.',
    );
    expect(choosingSentence({ routes: ['Night', 'Day'], maintenance: ['New mast'] })).toMatch(
      /^The routes “Night” and “Day” and the maintenance “New mast” choose watches by it, /,
    );
    expect(choosingSentence({ routes: [...'ABCDE'], maintenance: [] })).toMatch(
      /^The routes “A”, “B”, “C” and 2 others choose /,
    );
    expect(choosingSentence({ routes: [], maintenance: [...'ABCD'] })).toMatch(
      /^The maintenance “A”, “B”, “C” and one other choose /,
    );
  });

  it('takes it in or leaves it out, whatever else it is about', () => {
    const all = { all: true, ...NO_WATCHES, except: NO_WATCHES };
    expect(goesBy(all, 'sections', 'Piers')).toBe(false);
    expect(goesBy({ ...all, sections: ['Piers'] }, 'sections', 'Piers')).toBe(true);
    expect(goesBy({ ...all, sections: ['Piers'] }, 'tags', 'Piers')).toBe(false);
    expect(goesBy({ ...all, except: { ...NO_WATCHES, tags: ['night'] } }, 'tags', 'night')).toBe(true);
  });
});
