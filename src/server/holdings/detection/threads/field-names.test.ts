import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { Engine } from '../../../../core/holdings/detection/engine/engine.ts';
import { builtInDetectors, BUILT_INS } from '../../../../core/holdings/detection/library/library.ts';
import { extract } from '../../../files/extract/extract.ts';

const engine = new Engine(builtInDetectors());

/** By detector, the names that its field or column goes by. */
const FIELD_NAMES = readFileSync(
  join(import.meta.dirname, '../../../../../tests/corpus/field-names.txt'),
  'utf8',
)
  .trim()
  .split('\n')
  .map((line) => {
    const [id = '', names = ''] = line.split(': ');
    return { id, names: names.split(', ') };
  });

const VALUES = new Map(
  BUILT_INS.map((d) => [
    d.id,
    d.examples
      .flatMap((e) => [...e.matchAll(/⟦([^⟧]*)⟧/g)].map((m) => m[1] as string))
      .filter((v) => v.length < 70 && !v.includes('\n')),
  ]),
);

const FORMS: Readonly<Record<string, (name: string, values: readonly string[]) => string>> = {
  csv: (name, values) => `nr,${name},note\n${values.map((v, i) => `${i},"${v}",seen\n`).join('')}`,
  json: (name, values) => JSON.stringify(values.map((v, nr) => ({ nr, [name]: v }))),
};

describe.each(Object.keys(FORMS))('fields of %s, by what they are called', (form) => {
  it.each(FIELD_NAMES)('$id', async ({ id, names }) => {
    const values = [...new Set(VALUES.get(id))];
    expect(values).not.toEqual([]);
    const shares: number[] = [];
    for (const name of names) {
      const text = (FORMS[form] as (typeof FORMS)[string])(name, values);
      const { findings } = engine.detect(await extract(`list.${form}`, Buffer.from(text)), { reveal: true });
      const found = findings.filter((f) => f.detector === id).map((f) => f.value ?? '');
      const known = values.filter((v) => found.some((f) => f.includes(v) || v.includes(f)));
      expect(known, name).not.toEqual([]);
      shares.push(known.length / values.length);
    }
    expect(shares.reduce((sum, s) => sum + s, 0) / shares.length).toBeGreaterThan(0.6);
  });
});
