import { readdir, writeFile } from 'node:fs/promises';
import { join, relative } from 'node:path';
import ts from 'typescript';
import type { Descriptions, JsonSchema } from '../src/core/accounts/programs/openapi.ts';
import { AnswerSchemas } from './answer-schema.ts';
import { PROJECT } from './project.ts';

const API = join(PROJECT, 'src/pages/api');
const METHODS: readonly string[] = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'];

/**
 * Reads the source of the endpoints: what is written above each, and what it answers with. An answer that is no JSON is
 * `null`. Takes half a minute.
 */
export async function describeEndpoints(): Promise<Descriptions> {
  const files = (await readdir(API, { recursive: true }))
    .filter((f) => f.endsWith('.ts'))
    .map((f) => join(API, f))
    .toSorted();
  // A type for each, so that the compiler reads what `AnswerOf` makes of it.
  const host = join(PROJECT, 'src/described-answers.ts');
  const text = [
    `import type { AnswerOf, Endpoint } from './server/http/endpoint.ts';`,
    ...files.map((f, i) => `import type * as f${i} from './${relative(join(PROJECT, 'src'), f)}';`),
    `type IsFile<E> = E extends Endpoint<infer R> ? [Exclude<Awaited<R>, Response>] extends [never] ? true : false : false;`,
    `type Of<M, K> = K extends keyof M ? (IsFile<M[K]> extends true ? never : AnswerOf<M[K]>) : never;`,
    `export interface Answers {`,
    ...files.flatMap((_, i) => METHODS.map((m) => `  f${i}_${m}: Of<typeof f${i}, '${m}'>;`)),
    `}`,
  ].join('\n');
  const config = ts.getParsedCommandLineOfConfigFile(
    join(PROJECT, 'tsconfig.json'),
    {},
    { ...ts.sys, onUnRecoverableConfigFileDiagnostic: () => {} },
  );
  const options: ts.CompilerOptions = { ...config?.options, noEmit: true };
  const compiler = ts.createCompilerHost(options);
  const { getSourceFile, fileExists, readFile } = compiler;
  compiler.fileExists = (name) => name === host || fileExists(name);
  compiler.readFile = (name) => (name === host ? text : readFile(name));
  compiler.getSourceFile = (name, language, ...rest) =>
    name === host ? ts.createSourceFile(name, text, language) : getSourceFile(name, language, ...rest);
  const program = ts.createProgram([host, join(PROJECT, 'src/env.d.ts')], options, compiler);
  const checker = program.getTypeChecker();
  const schemas = new AnswerSchemas(checker);
  const answers = checker
    .getSymbolAtLocation(program.getSourceFile(host) as ts.SourceFile)
    ?.exports?.get('Answers' as ts.__String);
  const types = new Map(
    checker
      .getPropertiesOfType(checker.getDeclaredTypeOfSymbol(answers as ts.Symbol))
      .map((p) => [p.name, checker.getTypeOfSymbol(p)]),
  );
  const operations: Record<string, { words: string; answer: JsonSchema | null }> = {};
  for (const [i, file] of files.entries()) {
    const module = checker.getSymbolAtLocation(program.getSourceFile(file) as ts.SourceFile);
    for (const method of METHODS) {
      const exported = module?.exports?.get(method as ts.__String);
      const type = types.get(`f${i}_${method}`);
      if (!exported || !type) continue;
      const path = relative(API, file).replace(/\.ts$/, '');
      operations[`${method} ${path}`] = {
        words: ts.displayPartsToString(exported.getDocumentationComment(checker)).replace(/\s+/g, ' ').trim(),
        answer: type.flags & ts.TypeFlags.Never ? null : schemas.of(type),
      };
    }
  }
  return { operations, schemas: schemas.defs };
}

/** Writes them where the web process reads them. */
export async function writeDescriptions(folder: string): Promise<void> {
  await writeFile(join(folder, 'descriptions.json'), JSON.stringify(await describeEndpoints()));
}
