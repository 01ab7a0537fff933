import { z } from 'zod';
import { permissionWords } from '../roles/permissions.ts';

/** A JSON Schema, 2020-12. */
export type JsonSchema = { readonly [key: string]: unknown } | boolean;

/** An endpoint of the desk as it is told to programs. */
export interface DescribedRoute {
  /** `GET`, `POST` … */
  readonly method: string;
  /** Of its file: `accounts/tokens/[id]`. */
  readonly file: string;
  /** What it takes somebody to be allowed; `null` where that depends on the path. */
  readonly action: string | null;
  /** Of what it is sent: the query string, the body, and what stands in the path. */
  readonly input: z.ZodType;
}

/**
 * What the source says besides, by `GET accounts/tokens/[id]`: the sentence above an endpoint, and what it answers with;
 * `null` for a file. Answers refer to `schemas`.
 */
export interface Descriptions {
  readonly operations: Readonly<
    Record<string, { readonly words: string; readonly answer: JsonSchema | null }>
  >;
  readonly schemas: Readonly<Record<string, JsonSchema>>;
}

export const NO_DESCRIPTIONS: Descriptions = { operations: {}, schemas: {} };

/** The address of an endpoint as OpenAPI writes it: `/api/accounts/tokens/{id}`. */
export function routePath(file: string): string {
  const path = file.replace(/(^|\/)index$/, '').replace(/\[(?:\.\.\.)?([^\]]+)\]/g, '{$1}');
  return `/api${path === '' ? '' : `/${path}`}`;
}

/** `deleteAccountsTokensId`: the method before the path. */
export function operationId({ method, file }: Pick<DescribedRoute, 'method' | 'file'>): string {
  const words = file
    .replace(/(^|\/)index$/, '')
    .split(/[^A-Za-z0-9]+/)
    .filter(Boolean);
  const name = words.map((w) => w.charAt(0).toUpperCase() + w.slice(1)).join('');
  return `${method.toLowerCase()}${name}`;
}

/** An OpenAPI 3.1 document of these endpoints. `origin` is where they are asked. */
export function openApi(routes: readonly DescribedRoute[], told: Descriptions, origin: string) {
  const paths: Record<string, Record<string, unknown>> = {};
  const own: Record<string, unknown> = {};
  const sorted = routes.toSorted((a, b) => (a.file < b.file ? -1 : a.file > b.file ? 1 : 0));
  for (const route of sorted) {
    const path = (paths[routePath(route.file)] ??= {});
    path[route.method.toLowerCase()] = operation(route, told, own);
  }
  return {
    openapi: '3.1.1',
    info: { title: 'Yare Warden', version: '1', description: INTRODUCTION },
    jsonSchemaDialect: 'https://json-schema.org/draft/2020-12/schema',
    servers: [{ url: origin }],
    security: [{ token: [] }],
    tags: [...new Set(sorted.map(areaOf))].map((name) => ({ name })),
    paths,
    components: {
      securitySchemes: { token: { type: 'http', scheme: 'bearer' } },
      schemas: { ...told.schemas, ...own, RefusedRequest: REFUSAL },
      responses: { Refused: refused('It cannot be taken as it is; each field says what would do.') },
    },
  };
}

const INTRODUCTION = `All that the desk does, for programs: with a token that acts as whoever gave it, and may do what it was given of that. Times are in UTC by ISO 8601. Ids stay. Lists that go on answer with a \`next\`, which is sent as \`after\`. A request with an \`Idempotency-Key\` is done once within a day, and answered the same when it comes again. A token may ask 1,200 times a minute; what is over is answered 429, with \`Retry-After\`.`;

const REFUSAL = {
  type: 'object',
  required: ['error', 'fields'],
  properties: {
    error: { type: 'string', description: 'What was wrong, in a sentence.' },
    fields: {
      type: 'array',
      items: {
        type: 'object',
        required: ['field', 'message'],
        properties: {
          field: { type: 'string', description: 'Dotted path of the field; empty for the whole.' },
          message: { type: 'string' },
        },
      },
    },
    requestId: { type: 'string' },
    detail: { description: 'What the caller needs to go on.' },
  },
} as const;

function refused(description: string) {
  return {
    description,
    content: { 'application/json': { schema: { $ref: '#/components/schemas/RefusedRequest' } } },
  };
}

function areaOf({ file }: Pick<DescribedRoute, 'file'>): string {
  return file.split('/')[0] ?? file;
}

/** `own` takes what inputs refer to in themselves. */
function operation(
  route: DescribedRoute,
  { operations }: Descriptions,
  own: Record<string, unknown>,
): Record<string, unknown> {
  const { method, file, action } = route;
  const said = operations[`${method} ${file}`];
  const needs = action === null ? undefined : permissionWords(action);
  const inPath = [...routePath(file).matchAll(/\{([^}]+)\}/g)].map(([, name]) => name ?? '');
  const input = schemaOf(route.input, operationId(route), own);
  const reads = method === 'GET';
  const fields = propertiesOf(input);
  const summary = said?.words || (needs === undefined ? file : `For ${needs}.`);
  return {
    operationId: operationId(route),
    tags: [areaOf(route)],
    summary: summary.length > 120 ? `${summary.slice(0, 117)}…` : summary,
    ...(summary.length > 120 ? { description: summary } : {}),
    ...(needs === undefined ? {} : { 'x-needs': { action, words: needs } }),
    parameters: [
      ...inPath.map((name) => ({ name, in: 'path', required: true, schema: fields.get(name)?.schema ?? {} })),
      ...(reads
        ? [...fields]
            .filter(([name]) => !inPath.includes(name))
            .map(([name, { schema, required }]) => ({ name, in: 'query', required, schema }))
        : [
            {
              name: 'Idempotency-Key',
              in: 'header',
              required: false,
              schema: { type: 'string', maxLength: 255 },
            },
          ]),
    ],
    ...(reads || [...fields.keys()].every((name) => inPath.includes(name))
      ? {}
      : {
          requestBody: {
            required: true,
            content: { 'application/json': { schema: without(input, inPath) } },
          },
        }),
    responses: {
      '200': answerOf(said),
      ...Object.fromEntries(
        ['400', '401', '403', '404', '409', ...(reads ? [] : ['422']), '429'].map((status) => [
          status,
          { $ref: '#/components/responses/Refused' },
        ]),
      ),
    },
  };
}

function answerOf(said: Descriptions['operations'][string] | undefined) {
  if (said?.answer === null) return { description: 'A file.' };
  return {
    description: 'It is done.',
    content: { 'application/json': { schema: said?.answer ?? {} } },
  };
}

/** What is to be sent, before it is read. Shapes that hold themselves go to `own`, under names of this operation. */
function schemaOf(
  input: z.ZodType,
  operation: string,
  own: Record<string, unknown>,
): Record<string, unknown> {
  const told = z.toJSONSchema(input, {
    ...{ io: 'input', unrepresentable: 'any', reused: 'inline', cycles: 'ref' },
  });
  const text = JSON.stringify(told).replaceAll('"#/$defs/', `"#/components/schemas/${operation}.`);
  const { $schema: _, $defs, ...schema } = JSON.parse(text) as Record<string, unknown>;
  for (const [name, of] of Object.entries(($defs ?? {}) as object))
    own[`${operation}.${name}`] = isAnyJson(of) ? {} : of;
  return schema;
}

/** Whether it takes text, numbers, yes and no, nothing, lists, and objects of any names: a client types it as unknown. */
export function isAnyJson(schema: JsonSchema): boolean {
  const parts = typeof schema === 'object' ? (schema['anyOf'] as readonly { type?: string }[]) : undefined;
  const types = new Set(parts?.map((p) => p.type));
  return ['string', 'number', 'boolean', 'null', 'array', 'object'].every((t) => types.has(t));
}

interface Field {
  readonly schema: JsonSchema;
  readonly required: boolean;
}

const branches = (schema: Record<string, unknown>, key: 'allOf' | 'anyOf' | 'oneOf') =>
  (schema[key] as readonly Record<string, unknown>[] | undefined) ?? [];

/** The fields of a JSON object: of all of its parts; of one of several shapes, none is required that is not in each. */
export function propertiesOf(schema: Record<string, unknown>): ReadonlyMap<string, Field> {
  const found = new Map<string, Field>();
  const required = new Set((schema['required'] as readonly string[] | undefined) ?? []);
  for (const [name, of] of Object.entries((schema['properties'] ?? {}) as Record<string, JsonSchema>))
    found.set(name, { schema: of, required: required.has(name) });
  for (const part of branches(schema, 'allOf'))
    for (const [name, f] of propertiesOf(part)) found.set(name, f);
  const shapes = [...branches(schema, 'anyOf'), ...branches(schema, 'oneOf')].map(propertiesOf);
  for (const name of new Set(shapes.flatMap((s) => [...s.keys()]))) {
    const of = shapes.flatMap((s) => s.get(name)?.schema ?? []);
    found.set(name, {
      schema: of.length === 1 ? (of[0] as JsonSchema) : { anyOf: of },
      required: shapes.every((s) => s.get(name)?.required === true),
    });
  }
  return found;
}

/** The same without fields that stand elsewhere. */
export function without(schema: Record<string, unknown>, names: readonly string[]): Record<string, unknown> {
  const next: Record<string, unknown> = { ...schema };
  if (schema['properties'])
    next['properties'] = Object.fromEntries(
      Object.entries(schema['properties'] as object).filter(([name]) => !names.includes(name)),
    );
  const required = (schema['required'] as readonly string[] | undefined)?.filter((n) => !names.includes(n));
  delete next['required'];
  if (required && required.length > 0) next['required'] = required;
  for (const key of ['allOf', 'anyOf', 'oneOf'] as const)
    if (schema[key]) next[key] = branches(schema, key).map((part) => without(part, names));
  return next;
}
