import { describe, expect, it } from 'vitest';
import {
  filterFromQuery,
  filterToQuery,
  isFiltering,
  NO_FILTER,
  passes,
  type Filterable,
} from '@/core/settings/watch-filter';

const kiosk: Filterable = {
  name: 'Kiosk North',
  kind: 'port',
  section: 'Piers',
  tags: [{ name: 'pier' }, { name: 'till' }],
  state: 'down',
  target: 'kiosk-north.ternferry.test:9100',
};
const loose: Filterable = { ...kiosk, name: 'Office mail', section: null, tags: [], state: 'up' };

describe('which watches are meant', () => {
  it.each([
    [{}, true],
    [{ states: ['down'] }, true],
    [{ states: ['up', 'slow'] }, false],
    [{ states: ['up', 'down'] }, true],
    [{ kinds: ['port'] }, true],
    [{ kinds: ['web'] }, false],
    [{ sections: ['Piers'] }, true],
    [{ sections: [''] }, false],
    [{ tags: ['till'] }, true],
    [{ tags: ['night'] }, false],
    [{ tags: ['night', 'pier'] }, true],
    [{ states: ['down'], kinds: ['web'] }, false],
    [{ text: 'north' }, true],
    [{ text: '  NORTH   9100 ' }, true],
    [{ text: 'piers till' }, true],
    [{ text: 'north south' }, false],
  ] as const)('%j', (filter, does) => {
    expect(passes({ ...NO_FILTER, ...(filter as object) }, kiosk)).toBe(does);
  });

  it('are those without a section, where an empty one is asked for', () => {
    expect(passes({ ...NO_FILTER, sections: [''] }, loose)).toBe(true);
    expect(passes({ ...NO_FILTER, text: 'null' }, loose)).toBe(false);
  });

  it('are all of them where nothing is asked for', () => {
    expect(NO_FILTER).toEqual({ states: [], kinds: [], sections: [], tags: [], text: '' });
    expect(isFiltering(NO_FILTER)).toBe(false);
    expect(isFiltering({ ...NO_FILTER, text: '  ' })).toBe(false);
    expect(isFiltering({ ...NO_FILTER, text: ' x ' })).toBe(true);
    for (const field of ['states', 'kinds', 'sections', 'tags']) {
      expect(isFiltering({ ...NO_FILTER, [field]: ['x'] })).toBe(true);
    }
  });

  it('stand in an address, and come back from it', () => {
    const filter = {
      states: ['down', 'slow'],
      kinds: ['web'],
      sections: ['', 'Piers'],
      tags: ['a b'],
      text: ' x y ',
    };
    const query = filterToQuery(filter as never);
    expect(query).toBe('state=down&state=slow&kind=web&section=&section=Piers&tag=a+b&text=x+y');
    expect(filterFromQuery(new URLSearchParams(query))).toEqual({ ...filter, text: 'x y' });
    expect(filterToQuery(NO_FILTER)).toBe('');
    expect(filterToQuery({ ...NO_FILTER, text: '  ' })).toBe('');
    expect(filterFromQuery(new URLSearchParams('state=burning&state=up'))).toEqual({
      ...NO_FILTER,
      states: ['up'],
    });
  });
});
