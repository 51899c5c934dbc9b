import { nameOf, typeText, type Schema } from './document';

function Type({ schema }: { schema: Schema }) {
  if (schema.$ref) {
    const name = nameOf(schema.$ref);
    return (
      <a href={`#shape-${name}`} className="underline underline-offset-2">
        {name}
      </a>
    );
  }
  const several = schema.oneOf ?? schema.anyOf;
  if (several) {
    return (
      <>
        {several.map((one, i) => (
          <span key={i}>
            {i > 0 && ' or '}
            <Type schema={one} />
          </span>
        ))}
      </>
    );
  }
  if (schema.type === 'array' && schema.items) {
    return (
      <>
        list of <Type schema={schema.items} />
      </>
    );
  }
  return <>{typeText(schema) || 'anything'}</>;
}

/** The fields of a shape, each with what it is; shapes within it are shown in their place. */
export function Shape({ schema, level = 0 }: { schema: Schema; level?: number }) {
  const fields = Object.entries(schema.properties ?? {});
  const inner = schema.type === 'array' ? schema.items : undefined;
  if (fields.length === 0) {
    if (inner?.properties) return <Shape schema={inner} level={level} />;
    return (
      <p>
        <Type schema={schema} />
      </p>
    );
  }
  return (
    <dl className={level > 0 ? 'border-rule ml-2 border-l pl-3' : ''}>
      {fields.map(([name, field]) => (
        <div key={name} className="py-1">
          <dt className="flex flex-wrap items-baseline gap-x-2">
            <code className="figures font-semibold">{name}</code>
            <span className="text-muted text-[0.875rem]">
              <Type schema={field} />
              {schema.required && !schema.required.includes(name) ? ', may be left out' : ''}
            </span>
          </dt>
          <dd className="text-[0.9062rem]">
            {field.description}
            {(field.properties ?? field.items?.properties) && <Shape schema={field} level={level + 1} />}
          </dd>
        </div>
      ))}
    </dl>
  );
}
