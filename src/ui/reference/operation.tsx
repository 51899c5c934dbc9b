import { nameOf, typeText, type Operation, type Parameter, type ReferenceDocument } from './document';
import { Shape } from './shape';

interface OperationProps {
  method: string;
  path: string;
  operation: Operation;
  document: ReferenceDocument;
}

function Parameters({ parameters }: { parameters: Parameter[] }) {
  return (
    <dl>
      {parameters.map((parameter) => (
        <div key={`${parameter.in} ${parameter.name}`} className="py-1">
          <dt className="flex flex-wrap items-baseline gap-x-2">
            <code className="figures font-semibold">{parameter.name}</code>
            <span className="text-muted text-[0.875rem]">
              {parameter.in === 'header' ? 'header, ' : parameter.in === 'path' ? 'in the path, ' : ''}
              {typeText(parameter.schema)}
            </span>
          </dt>
          <dd className="text-[0.9062rem]">{parameter.description}</dd>
        </div>
      ))}
    </dl>
  );
}

/** One operation: what it is for at a glance, and all of it when it is opened. */
export function OperationEntry({ method, path, operation, document }: OperationProps) {
  const parameters = (operation.parameters ?? []).map((parameter) =>
    parameter.$ref ? document.components.parameters[nameOf(parameter.$ref)]! : parameter,
  );
  const body = operation.requestBody?.content['application/json'];
  const answers = Object.entries(operation.responses);
  return (
    <details id={operation.operationId} className="border-rule border-t py-2">
      <summary className="grid cursor-pointer items-baseline gap-x-3 sm:grid-cols-[4.5rem_minmax(0,19rem)_minmax(0,1fr)]">
        <code className="figures text-muted">{method.toUpperCase()}</code>
        <code className="figures font-semibold break-words">{path}</code>
        <span className="text-muted text-[0.9062rem]">{operation.summary}</span>
      </summary>
      <div className="flex flex-col gap-3 py-3 sm:pl-[5.25rem]">
        {operation.description && <p>{operation.description}</p>}
        {parameters.length > 0 && (
          <div>
            <h3 className="text-[0.9375rem] font-semibold">Parameters</h3>
            <Parameters parameters={parameters} />
          </div>
        )}
        {body && (
          <div>
            <h3 className="text-[0.9375rem] font-semibold">Body</h3>
            <Shape schema={body.schema} />
            {body.example && (
              <pre className="figures bg-wash mt-2 overflow-x-auto rounded-lg p-3 text-[0.8438rem]">
                {JSON.stringify(body.example, null, 2)}
              </pre>
            )}
          </div>
        )}
        <div>
          <h3 className="text-[0.9375rem] font-semibold">Answers</h3>
          <dl>
            {answers.map(([status, answer]) => (
              <div key={status} className="grid grid-cols-[3.5rem_minmax(0,1fr)] gap-x-2 py-0.5">
                <dt className="figures font-semibold">{status}</dt>
                <dd className="text-[0.9062rem]">
                  {answer.description.replaceAll('`', '')}{' '}
                  {Object.entries(answer.content ?? {})
                    .filter(([type]) => type === 'application/json')
                    .map(([type, { schema }]) => (
                      <Shape key={type} schema={schema} />
                    ))}
                </dd>
              </div>
            ))}
          </dl>
        </div>
      </div>
    </details>
  );
}
