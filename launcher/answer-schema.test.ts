import ts from 'typescript';
import { describe, expect, it } from 'vitest';
import { AnswerSchemas } from './answer-schema.ts';

/** The schemas of types written in TypeScript, with what they refer to. */
function schemasOf(types: readonly string[], more = '') {
  const name = '/described.ts';
  const text = `${more}\nexport interface Of { ${types.map((t, i) => `t${i}: ${t}`).join('; ')} }`;
  const host = ts.createCompilerHost({ strict: true });
  const { getSourceFile } = host;
  host.getSourceFile = (file, language, ...rest) =>
    file === name ? ts.createSourceFile(name, text, language) : getSourceFile(file, language, ...rest);
  const program = ts.createProgram([name], { strict: true, lib: ['lib.es2022.d.ts'] }, host);
  const checker = program.getTypeChecker();
  const of = checker
    .getSymbolAtLocation(program.getSourceFile(name) as ts.SourceFile)
    ?.exports?.get('Of' as ts.__String);
  const schemas = new AnswerSchemas(checker);
  const told = checker
    .getPropertiesOfType(checker.getDeclaredTypeOfSymbol(of as ts.Symbol))
    .map((p) => schemas.of(checker.getTypeOfSymbol(p)));
  return { told, defs: schemas.defs };
}

describe('what is answered', () => {
  it('is said as JSON has it', () => {
    const table: [string, object | boolean][] = [
      ['string', { type: 'string' }],
      ['number[]', { type: 'array', items: { type: 'number' } }],
      ["'a' | 'b'", { enum: ['a', 'b'] }],
      ["'a' | null", { anyOf: [{ const: 'a' }, { type: 'null' }] }],
      ['boolean', { type: 'boolean' }],
      ['true', { const: true }],
      ['Date', { type: 'string', format: 'date-time' }],
      ['unknown', true],
      ['[string, number]', { type: 'array', prefixItems: [{ type: 'string' }, { type: 'number' }] }],
      ['Record<string, number>', { type: 'object', additionalProperties: { type: 'number' } }],
    ];
    const { told } = schemasOf(table.map(([type]) => type));
    // Parts of a choice come in the order of the compiler.
    const sorted = (schema: unknown) =>
      JSON.stringify(schema)
        .split(/[[\]{},]/)
        .toSorted();
    for (const [i, [type, schema]] of table.entries()) expect(sorted(told[i]), type).toEqual(sorted(schema));
  }, 60_000);

  it('tells what may be absent, and leaves out what is no value', () => {
    expect(schemasOf(['{ a: string; b?: number; c: string | undefined; d(): void }']).told[0]).toEqual({
      type: 'object',
      properties: { a: { type: 'string' }, b: { type: 'number' }, c: { type: 'string' } },
      required: ['a'],
    });
  });

  it('comes to an end in types that hold themselves, and takes any JSON for anything', () => {
    const { told, defs } = schemasOf(['Node'], 'export interface Node { below: Node[]; name: string }');
    expect(told[0]).toEqual({ $ref: '#/components/schemas/Node' });
    expect(defs['Node']).toMatchObject({
      properties: { below: { type: 'array', items: { $ref: '#/components/schemas/Node' } } },
    });
    const json =
      'export type Json = string | number | boolean | null | readonly Json[] | { readonly [key: string]: Json };';
    expect(schemasOf(['Json'], json).defs['Json']).toBe(true);
  });
});
