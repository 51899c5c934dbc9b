import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { BODY_VALUES } from '@/channels/frame/template-body';
import { TEXT_VALUES } from '@/core/messages/text-values';

const readme = readFileSync('README.md', 'utf8');

describe('the README', () => {
  it('names every value a text of one’s own may name', () => {
    const [, told] = /\*\*Words\.\*\*([\s\S]*?)\n- /.exec(readme)!;
    for (const name of Object.keys(TEXT_VALUES)) expect(told, name).toContain(`\`${name}\``);
  });

  it('names every value a body of one’s own may name', () => {
    const [, told] = /can post a body of your own([\s\S]*?)\n- /.exec(readme)!;
    for (const name of Object.keys(BODY_VALUES)) expect(told, name).toContain(`\`${name}\``);
  });
});
