import { openApiDocument } from '@/api/openapi';
import { REFUSALS } from '@/cases/frame/refusals';
import type { ReferenceDocument } from '@/ui/reference/document';
import { OpenTarget } from '@/ui/reference/open-target';
import { OperationEntry } from '@/ui/reference/operation';
import { Shape } from '@/ui/reference/shape';
import { requestBase, requireRight } from '@/app/session';

const LINK = 'underline underline-offset-2';

export const metadata = { title: 'Reference of the API' };

/** The body that makes what a body changes. */
function wholeOf(name: string): string {
  return name.replace(/^Change/, 'Create');
}

/** A change of something with many kinds is told once, where it is made: it has the same fields. */
function isTold(name: string, { components: { schemas } }: ReferenceDocument): boolean {
  return name.startsWith('Change') && schemas[name]?.anyOf !== undefined && wholeOf(name) in schemas;
}

/** The API as its own document has it: what is shown here is what validates, shapes and refuses. */
export default async function Reference() {
  await requireRight('look');
  const document = openApiDocument(await requestBase()) as unknown as ReferenceDocument;
  const operations = Object.entries(document.paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, operation]) => ({ path, method, operation })),
  );
  return (
    <div className="flex flex-col gap-6">
      <OpenTarget />
      <div>
        <h1>What a program can do here.</h1>
        <p className="text-muted mt-1.5">
          {operations.length} operations at <code className="figures">{document.servers[0]!.url}</code>, with
          a token from{' '}
          <a href="/access" className={LINK}>
            API tokens
          </a>
          . For programs the same stands in{' '}
          <a href="/api/v1/openapi.json" className={LINK}>
            openapi.json
          </a>
          . {document.info.description}
        </p>
      </div>
      <nav aria-label="Parts of the reference" className="flex flex-wrap gap-x-4 gap-y-1">
        {[...document.tags.map((tag) => tag.name), 'Refusals', 'Shapes'].map((name) => (
          <a key={name} href={`#part-${name}`} className={LINK}>
            {name}
          </a>
        ))}
      </nav>
      {document.tags.map((tag) => (
        <section key={tag.name} id={`part-${tag.name}`} className="sheet px-5 py-4">
          <h2>{tag.name}</h2>
          <p className="text-muted mb-2">{tag.description}</p>
          {operations
            .filter(({ operation }) => operation.tags.includes(tag.name))
            .map(({ path, method, operation }) => (
              <OperationEntry key={operation.operationId} {...{ path, method, operation, document }} />
            ))}
        </section>
      ))}
      <section id="part-Refusals" className="sheet px-5 py-4">
        <h2>Refusals</h2>
        <p className="text-muted mb-2">
          A refusal is a problem document (RFC 9457); its code stands for one thing for good.
        </p>
        <dl>
          {Object.entries(REFUSALS).map(([code, { status, when }]) => (
            <div
              key={code}
              id={`refusal-${code}`}
              className="border-rule grid gap-x-3 border-t py-1.5 sm:grid-cols-[3.5rem_14rem_minmax(0,1fr)]"
            >
              <dt className="contents">
                <span className="figures text-muted">{status}</span>
                <code className="figures font-semibold">{code}</code>
              </dt>
              <dd>{when}</dd>
            </div>
          ))}
        </dl>
      </section>
      <section id="part-Shapes" className="sheet px-5 py-4">
        <h2>Shapes</h2>
        <p className="text-muted mb-2">What bodies and answers are made of.</p>
        {Object.entries(document.components.schemas).map(([name, schema]) => (
          <details key={name} id={`shape-${name}`} className="border-rule border-t py-2">
            <summary className="cursor-pointer">
              <code className="figures font-semibold">{name}</code>
              <span className="text-muted ml-3 text-[0.9062rem]">{schema.description}</span>
            </summary>
            <div className="py-2">
              {isTold(name, document) ? (
                <p>
                  As{' '}
                  <a href={`#shape-${wholeOf(name)}`} className={LINK}>
                    {wholeOf(name)}
                  </a>
                  , but nothing has to be there.
                </p>
              ) : schema.anyOf ? (
                schema.anyOf.map((one, i) => (
                  <div key={i} className="border-rule border-t py-2">
                    <Shape schema={one} />
                  </div>
                ))
              ) : (
                <Shape schema={schema} />
              )}
            </div>
          </details>
        ))}
      </section>
    </div>
  );
}
