import { useQuery } from '@tanstack/react-query';
import type * as openApi from '../../../pages/api/openapi.json.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { request } from '../../desk/request.ts';

/** An operation of the interface, as the document has it. */
export interface Operation {
  readonly id: string;
  readonly method: string;
  readonly path: string;
  readonly area: string;
  readonly summary: string;
  readonly needs: string | undefined;
  readonly parameters: readonly Parameter[];
  readonly body: Schema | undefined;
  readonly answer: Schema | undefined;
}

export interface Parameter {
  readonly name: string;
  readonly in: string;
  readonly required: boolean;
  readonly schema: Schema;
}

export type Schema = { readonly [key: string]: unknown } | boolean;

interface Told {
  readonly operationId: string;
  readonly tags: readonly string[];
  readonly summary: string;
  readonly parameters: readonly Parameter[];
  readonly 'x-needs'?: { readonly words: string };
  readonly requestBody?: { readonly content: { readonly 'application/json': { readonly schema: Schema } } };
  readonly responses: {
    readonly '200': { readonly content?: { readonly 'application/json': { readonly schema: Schema } } };
  };
}

export function useInterface() {
  return useQuery({
    queryKey: ['interface'],
    queryFn: () => request<AnswerOf<typeof openApi.GET>>('GET', '/api/openapi.json'),
    staleTime: Infinity,
    select: (document) => ({
      operations: Object.entries(document.paths).flatMap(([path, methods]) =>
        Object.entries(methods).map(([method, told]) => readOperation(path, method, told as Told)),
      ),
      schemas: document.components.schemas as Readonly<Record<string, Schema>>,
    }),
  });
}

function readOperation(path: string, method: string, told: Told): Operation {
  return {
    ...{ id: told.operationId, method: method.toUpperCase(), path, area: told.tags[0] ?? '' },
    ...{ summary: told.summary, needs: told['x-needs']?.words, parameters: told.parameters },
    body: told.requestBody?.content['application/json'].schema,
    answer: told.responses['200'].content?.['application/json'].schema,
  };
}

/** What a schema says, on one line of words: “text, 120 at most”, “list of …”. `deep` shapes within are opened. */
export function schemaWords(
  schema: Schema | undefined,
  schemas: Readonly<Record<string, Schema>>,
  deep = 1,
): string {
  if (schema === undefined || typeof schema === 'boolean') return 'anything';
  const { $ref, type, items, properties, anyOf, allOf, oneOf, const: only } = schema;
  const within = (s: unknown) => schemaWords(s as Schema, schemas, deep - 1);
  if (typeof $ref === 'string') {
    const name = $ref.split('/').at(-1) ?? '';
    return deep > 0 && schemas[name] !== undefined ? schemaWords(schemas[name], schemas, deep) : name;
  }
  if (only !== undefined) return JSON.stringify(only);
  if (Array.isArray(schema['enum'])) return enumWords(schema['enum']);
  if (Array.isArray(anyOf ?? oneOf)) return ((anyOf ?? oneOf) as unknown[]).map(within).join(' or ');
  if (Array.isArray(allOf)) return allOf.map(within).join(' with ');
  if (type === 'array') return `list of ${schemaWords(items as Schema, schemas, deep)}`;
  if (type === 'object' && properties && deep > 0) {
    const required = new Set((schema['required'] as readonly string[] | undefined) ?? []);
    return `{ ${Object.entries(properties as Record<string, Schema>)
      .map(([name, s]) => `${name}${required.has(name) ? '' : '?'}: ${within(s)}`)
      .join(', ')} }`;
  }
  return TYPE_WORDS[String(type)] ?? String(type ?? 'anything');
}

const MOST_NAMED = 6;

function enumWords(values: readonly unknown[]): string {
  const named = values.slice(0, MOST_NAMED).map((v) => JSON.stringify(v));
  const rest = values.length - named.length;
  return rest > 0 ? `${named.join(', ')} or one of ${rest} more` : named.join(' or ');
}

const TYPE_WORDS: Readonly<Record<string, string>> = {
  string: 'text',
  integer: 'whole number',
  null: 'nothing',
  boolean: 'yes or no',
};
