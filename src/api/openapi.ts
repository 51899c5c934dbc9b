import type { AnySchema, ObjectSchema } from 'yup';
import { REFUSALS, refusalKind, type RefusalCode } from '@/cases/frame/refusals';
import { scheduleSchema } from '@/cases/schemas/watch';
import { isEach, isVariants, type Answer } from './answers/build';
import { jsonSchemaOf, type JsonSchema } from './json-schema';
import { queryOf } from './query';
import type { Route } from './route';
import { ROUTES } from './routes';

type Components = Record<string, JsonSchema>;

const ref = (name: string): JsonSchema => ({ $ref: `#/components/schemas/${name}` });

/** A body that several operations take has one name: that of the first. */
function bodyName(route: Route): string {
  const first = ROUTES.find(({ body, partial }) => body === route.body && partial === route.partial) ?? route;
  const { id } = first.does;
  return `${id[0]!.toUpperCase()}${id.slice(1)}Body`;
}

function bodySchema(body: NonNullable<Route['body']>, partial: boolean): JsonSchema {
  const one = (schema: AnySchema): JsonSchema => jsonSchemaOf(schema, { partial });
  const isSeveral = 'oneOf' in body && !('describe' in body);
  const schemas = isSeveral
    ? (body as { oneOf: () => AnySchema[] }).oneOf().map(one)
    : [one(body as AnySchema)];
  return schemas.length === 1 ? schemas[0]! : { anyOf: schemas };
}

function bodyOf(route: Route, components: Components): JsonSchema | null {
  if (route.file) {
    const content = route.file.types.map((type) => [type, { schema: { type: 'string', format: 'binary' } }]);
    return { required: true, content: Object.fromEntries(content) as JsonSchema };
  }
  if (!route.body) return null;
  const name = bodyName(route);
  components[name] ??= bodySchema(route.body, route.partial === true);
  return {
    required: route.bodyOptional !== true,
    content: {
      'application/json': { schema: ref(name), ...(route.example && { example: route.example }) },
    },
  };
}

function answerSchema(answer: Answer, components: Components): JsonSchema {
  if (isEach(answer)) return { type: 'array', items: answerSchema(answer.each, components) };
  if (!isVariants(answer)) return jsonSchemaOf(answer, { components, told: true });
  const names = Object.entries(answer.of).map(
    ([value, schema]) => [value, String(jsonSchemaOf(schema, { components, told: true }).$ref)] as const,
  );
  components[answer.name] = {
    oneOf: names.map(([, $ref]) => ({ $ref })),
    discriminator: { propertyName: answer.by, mapping: Object.fromEntries(names) },
  };
  return ref(answer.name);
}

function parametersOf(route: Route): JsonSchema[] {
  const names = [...route.path.matchAll(/\{(\w+)\}/g)].map((match) => match[1]!);
  const query = queryOf(route.query, route.list) as ObjectSchema<object>;
  const schema = jsonSchemaOf(query);
  const properties = (schema.properties ?? {}) as Record<string, JsonSchema>;
  const makes = route.status === 201;
  return [
    ...names.map((name) => ({
      name,
      in: 'path',
      required: true,
      schema: { type: 'integer', minimum: 1 },
    })),
    ...Object.entries(properties).map(([name, { description, ...typed }]) => ({
      name,
      in: 'query',
      ...(description !== undefined && { description }),
      schema: typed,
    })),
    ...(makes ? [{ $ref: '#/components/parameters/IdempotencyKey' }] : []),
    ...(route.refusals?.includes('state.changed') ? [{ $ref: '#/components/parameters/IfMatch' }] : []),
  ];
}

/** Every refusal that may come of a route. */
export function refusalsOf(route: Route): RefusalCode[] {
  const codes: RefusalCode[] = [
    'signin.needed',
    'right.missing',
    'input.query',
    'answer.unacceptable',
    'own.fault',
    'desk.away',
    ...(route.path.includes('{') ? (['not.found'] as const) : []),
    ...(route.method === 'GET'
      ? []
      : (['origin.foreign', 'body.slow', 'body.long', 'body.type', 'keep.full'] as const)),
    ...(route.body ? (['input.unreadable'] as const) : []),
    ...(route.status === 201 ? (['key.reused'] as const) : []),
    ...(route.refusals ?? []),
  ];
  return [...new Set(codes)];
}

function headersOf(route: Route): JsonSchema | null {
  const headers = {
    ...(route.list && { Link: { $ref: '#/components/headers/Link' } }),
    ...((route.versioned || route.still) && { ETag: { $ref: '#/components/headers/ETag' } }),
    ...(route.location && { Location: { $ref: '#/components/headers/Location' } }),
  };
  return Object.keys(headers).length > 0 ? headers : null;
}

function responsesOf(route: Route, components: Components): JsonSchema {
  const headers = headersOf(route);
  const content = route.stream
    ? { 'text/event-stream': { schema: { type: 'string' } } }
    : route.shape && { 'application/json': { schema: answerSchema(route.shape, components) } };
  const statuses = new Map<number, RefusalCode[]>();
  for (const code of refusalsOf(route)) {
    const { status } = refusalKind(code);
    statuses.set(status, [...(statuses.get(status) ?? []), code]);
  }
  return {
    [route.status]: {
      description: route.answer,
      ...(headers && { headers }),
      ...(content && { content }),
    },
    ...(route.still &&
      route.method === 'GET' && { 304: { description: 'What If-None-Match names is what is there.' } }),
    ...Object.fromEntries(
      [...statuses]
        .sort(([a], [b]) => a - b)
        .map(([status, codes]) => [
          status,
          {
            description: codes.map((code) => `\`${code}\`: ${refusalKind(code).when}`).join(' '),
            content: { 'application/problem+json': { schema: ref('Problem') } },
          },
        ]),
    ),
  };
}

function operationOf(route: Route, components: Components): JsonSchema {
  const body = bodyOf(route, components);
  const parameters = parametersOf(route);
  return {
    operationId: route.does.id,
    summary: route.summary,
    ...(route.description && { description: route.description }),
    tags: [route.tag],
    ...(parameters.length > 0 && { parameters }),
    ...(body && { requestBody: body }),
    responses: responsesOf(route, components),
  };
}

const PROBLEM: JsonSchema = {
  type: 'object',
  description: 'Problem details (RFC 9457).',
  required: ['type', 'code', 'status', 'title', 'detail'],
  properties: {
    type: { type: 'string', format: 'uri-reference', description: 'Where the code is explained.' },
    code: { type: 'string', enum: Object.keys(REFUSALS) },
    status: { type: 'integer' },
    title: { type: 'string' },
    detail: { type: 'string' },
    errors: {
      type: 'array',
      description: 'Each field that was refused.',
      items: {
        type: 'object',
        required: ['field', 'message'],
        properties: { field: { type: 'string' }, message: { type: 'string' } },
        additionalProperties: false,
      },
    },
  },
  additionalProperties: false,
};

const HEADERS: JsonSchema = {
  Link: {
    description: 'The first page of the list and, where there is one, the next (RFC 8288).',
    schema: { type: 'string' },
  },
  ETag: {
    description: 'The version of what is answered; to be sent as If-Match with a change.',
    schema: { type: 'string' },
  },
  Location: { description: 'Where what was made is found.', schema: { type: 'string', format: 'uri' } },
};

const PARAMETERS: JsonSchema = {
  IdempotencyKey: {
    name: 'Idempotency-Key',
    in: 'header',
    description:
      'A text of your own. Sent again within a day, the same request is answered as before and not done again.',
    schema: { type: 'string', maxLength: 200 },
  },
  IfMatch: {
    name: 'If-Match',
    in: 'header',
    description: 'The ETag of what you read. Where somebody has changed it since, nothing is done (412).',
    schema: { type: 'string' },
  },
};

const TAGS: readonly [string, string][] = [
  ['Watches', 'Everything an eye is kept on.'],
  ['Trying', 'What can be tried before anything is saved, through the code that will run it.'],
  ['History', 'What was found, when, and what it came to.'],
  ['Sections, tags, filters', 'How watches are put together.'],
  ['Check-ins', 'Jobs that report by themselves.'],
  ['Messages', 'Where messages go, and what became of them.'],
  ['Public pages', 'What the public sees.'],
  ['Incidents', 'What the public is told.'],
  ['Maintenance', 'Planned time.'],
  ['Own line', 'Whether this machine itself can reach out.'],
  ['Shared settings', 'Set once, differ where needed.'],
  ['Live', 'What changes, as it changes.'],
  ['Access', 'Who may come in, and who did what.'],
];

function makeDocument(): JsonSchema {
  const components: Components = { Problem: PROBLEM, Schedule: jsonSchemaOf(scheduleSchema) };
  const paths: Record<string, JsonSchema> = {};
  for (const route of ROUTES) {
    const path = route.path === '' ? '/' : route.path;
    paths[path] = { ...paths[path], [route.method.toLowerCase()]: operationOf(route, components) };
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Calm Lantern',
      version: '1',
      summary: 'Everything the desk can do.',
      description:
        'Times are RFC 3339 in UTC; a time that is sent names its zone. Units stand in names. Lists are gone through by the Link header. Every GET answers HEAD, every address OPTIONS.',
      license: { name: 'MIT', identifier: 'MIT' },
    },
    security: [{ token: [] }],
    tags: TAGS.map(([name, description]) => ({ name, description })),
    paths,
    components: {
      securitySchemes: { token: { type: 'http', scheme: 'bearer' } },
      schemas: components,
      headers: HEADERS,
      parameters: PARAMETERS,
    },
  };
}

let made: JsonSchema | null = null;

/** The OpenAPI 3.1 document, made once from the routes and the very schemas that validate and shape. */
export function openApiDocument(base: string): JsonSchema {
  made ??= makeDocument();
  return { ...made, servers: [{ url: `${base}/api/v1` }] };
}
