import { jsonSchemaOf, type JsonSchema } from './json-schema';
import type { Route } from './route';
import { ROUTES } from './routes';

const PROBLEM = { $ref: '#/components/responses/Problem' };

function bodyOf(route: Route): JsonSchema | null {
  if (!route.body) return null;
  const schema =
    'oneOf' in route.body && typeof route.body.oneOf === 'function' && !('describe' in route.body)
      ? { oneOf: route.body.oneOf().map(jsonSchemaOf) }
      : jsonSchemaOf(route.body as never);
  return { required: true, content: { 'application/json': { schema } } };
}

function operationOf(route: Route): JsonSchema {
  const names = [...route.path.matchAll(/\{(\w+)\}/g)].map((match) => match[1]!);
  const body = bodyOf(route);
  return {
    operationId: `${route.method.toLowerCase()}${route.path.replace(/[/{}-]+(\w)/g, (_, c: string) => c.toUpperCase()).replace(/\W/g, '')}`,
    summary: route.summary,
    tags: [route.tag],
    parameters: [
      ...names.map((name) => ({ name, in: 'path', required: true, schema: { type: 'integer' } })),
      ...(route.query ?? []).map(({ name, description }) => ({
        name,
        in: 'query',
        description,
        schema: { type: 'string' },
      })),
    ],
    ...(body && { requestBody: body }),
    responses: {
      [route.status]: {
        description: route.answer,
        ...(route.status !== 204 && { content: { 'application/json': { schema: {} } } }),
      },
      401: PROBLEM,
      ...(names.length > 0 && { 404: PROBLEM }),
      ...(body && { 400: PROBLEM, 422: PROBLEM }),
    },
  };
}

let made: Record<string, JsonSchema> | null = null;

/** The OpenAPI 3.1 document, made once from the routes and the very schemas that validate. */
export function openApiDocument(base: string): JsonSchema {
  made ??= makePaths();
  return documentOf(base, made);
}

function makePaths(): Record<string, JsonSchema> {
  const paths: Record<string, JsonSchema> = {};
  for (const route of ROUTES) {
    paths[route.path] = { ...paths[route.path], [route.method.toLowerCase()]: operationOf(route) };
  }
  return paths;
}

function documentOf(base: string, paths: Record<string, JsonSchema>): JsonSchema {
  return {
    openapi: '3.1.0',
    info: {
      title: 'Calm Lantern',
      version: '1',
      description:
        'Everything the desk can do. Times are ISO 8601; lengths are seconds unless said otherwise.',
    },
    servers: [{ url: `${base}/api/v1` }],
    security: [{ token: [] }],
    paths,
    components: {
      securitySchemes: { token: { type: 'http', scheme: 'bearer' } },
      responses: {
        Problem: {
          description: 'Problem details (RFC 9457); errors names each field that was refused.',
          content: {
            'application/problem+json': {
              schema: {
                type: 'object',
                required: ['type', 'status', 'title', 'detail'],
                properties: {
                  type: { type: 'string' },
                  status: { type: 'integer' },
                  title: { type: 'string' },
                  detail: { type: 'string' },
                  errors: {
                    type: 'array',
                    items: {
                      type: 'object',
                      properties: { field: { type: 'string' }, message: { type: 'string' } },
                    },
                  },
                },
              },
            },
          },
        },
      },
    },
  };
}
