import { execFile } from 'node:child_process';
import { cpSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { build } from 'esbuild';
import openapiTS, { astToString } from 'openapi-typescript';
import { Validator } from '@seriousme/openapi-schema-validator';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openApiDocument } from '@/api/openapi';
import { makeAuthority } from '@/standins/certificates';
import { Harbour } from '@/standins/harbour';
import { ROOT, startProduct, TOKEN, type Product } from '../helpers';

const run = promisify(execFile);
const FOLDER = join(ROOT, '.cache/client');
const bin = (name: string) => join(ROOT, 'node_modules/.bin', name);

/** A program that has only the document. */
describe('the document of the API', () => {
  const document = openApiDocument('https://watch.ternferry.test');

  beforeAll(() => {
    rmSync(FOLDER, { recursive: true, force: true });
    mkdirSync(FOLDER, { recursive: true });
    writeFileSync(join(FOLDER, 'openapi.json'), JSON.stringify(document, null, 2));
    writeFileSync(join(FOLDER, 'redocly.yaml'), 'extends: [recommended]\ntelemetry: off\n');
  });
  afterAll(() => rmSync(FOLDER, { recursive: true, force: true }));

  it('is a good one to the specification’s own schema', async () => {
    const answer = await new Validator().validate(structuredClone(document));
    expect(answer.errors ?? []).toEqual([]);
    expect(answer.valid).toBe(true);
  });

  it('is a good one to a linter with its recommended rules, without a warning', async () => {
    const answer = await run(
      bin('redocly'),
      ['lint', 'openapi.json', '--format=json', '--config=redocly.yaml'],
      {
        cwd: FOLDER,
        env: { ...process.env, CI: 'true', REDOCLY_TELEMETRY: 'off', REDOCLY_SUPPRESS_UPDATE_NOTICE: 'true' },
        maxBuffer: 20_000_000,
      },
    ).catch((error: { stdout: string; stderr: string }) => error);
    const { totals, problems } = JSON.parse(answer.stdout) as {
      totals: object;
      problems: { ruleId: string; message: string; location: { pointer: string }[] }[];
    };
    const said = problems.map((p) => `${p.ruleId}: ${p.message} at ${p.location[0]?.pointer}`);
    expect(said.slice(0, 20)).toEqual([]);
    expect(totals).toMatchObject({ errors: 0, warnings: 0 });
  });

  describe('makes a client', () => {
    let product: Product;
    let harbour: Harbour;
    beforeAll(async () => {
      harbour = await Harbour.start({ basePort: 0, authority: await makeAuthority(), jobs: [] });
      product = await startProduct();
    });
    afterAll(async () => {
      await product.stop();
      await harbour.stop();
      rmSync(product.folder, { recursive: true, force: true });
    });

    it('that compiles under strict and goes through the whole story', async () => {
      const ast = await openapiTS(JSON.stringify(document));
      writeFileSync(join(FOLDER, 'schema.d.ts'), astToString(ast));
      cpSync(join(ROOT, 'tests/client/story.mts'), join(FOLDER, 'story.ts'));
      const compiled = await run(
        bin('tsc'),
        [
          '--noEmit',
          '--strict',
          '--target',
          'es2022',
          '--module',
          'esnext',
          '--moduleResolution',
          'bundler',
          '--types',
          'node',
          '--skipLibCheck',
          'story.ts',
        ],
        { cwd: FOLDER },
      ).catch((error: { stdout: string }) => error);
      expect(compiled.stdout).toBe('');
      const out = join(FOLDER, 'story.mjs');
      await build({
        entryPoints: [join(FOLDER, 'story.ts')],
        outfile: out,
        bundle: true,
        platform: 'node',
        format: 'esm',
        logLevel: 'silent',
      });
      const site = harbour.find('booking')!.address;
      const hook = `http://127.0.0.1:${harbour.port}/room/hook`;
      const { stdout } = await run(process.execPath, [out, product.base, TOKEN, site, hook]);
      const came = JSON.parse(stdout) as Record<string, unknown>;
      expect(came).toMatchObject({
        address: site,
        trial: 'fine',
        every: 30,
        late: [412, 'state.changed'],
        said: true,
        over: true,
        window: ['2036-12-01T06:00:00.000Z', '2036-12-01T08:00:00.000Z'],
        verdict: 'fine',
        uptime: 1,
        gone: 204,
        nothing: 'not.found',
      });
      expect((came.deeds as string[]).toReversed()).toEqual([
        'createWatch',
        'changeWatch',
        'createChannel',
        'createWatch',
        'createPage',
        'createIncidentOnPage',
        'addIncidentUpdate',
        'createWindow',
      ]);
    });

    it('as the README’s own example does', async () => {
      const readme = readFileSync(join(ROOT, 'README.md'), 'utf8');
      const block = /```sh\n(curl -H "Authorization[\s\S]*?)```/.exec(readme)?.[1];
      expect(block).toBeDefined();
      const line = block!.replaceAll('http://127.0.0.1:4780', product.base).replaceAll('\\\n', ' ');
      const { stdout } = await run('sh', ['-c', line], { env: { ...process.env, TOKEN } });
      expect(JSON.parse(stdout.slice(stdout.indexOf('{')))).toMatchObject({ kind: 'web' });
    });
  });

  it('has an example for every body, and each is taken in', () => {
    const paths = document.paths as Record<
      string,
      Record<string, { requestBody?: { content: { 'application/json'?: { example?: object } } } }>
    >;
    for (const [path, methods] of Object.entries(paths)) {
      for (const [method, { requestBody }] of Object.entries(methods)) {
        const json = requestBody?.content['application/json'];
        if (json) expect(json.example, `${method} ${path}`).toBeDefined();
        // What is no JSON is a file, by the types it may have.
        else if (requestBody) expect(Object.keys(requestBody.content).join()).toMatch(/^image\//);
      }
    }
  });
});
