import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { expect, it, test } from 'vitest';
import { wrongArrows } from './layers.ts';

it('finds no wrong arrow in the project', async () => {
  expect(await wrongArrows()).toEqual([]);
});

/** The rules that a file breaks which imports so from another. */
async function broken(files: Readonly<Record<string, string>>): Promise<readonly string[]> {
  const root = await mkdtemp(join(tmpdir(), 'yare-layers-'));
  try {
    for (const layer of ['src/core', 'src/server', 'src/pages', 'src/ui', 'src/visitor', 'standins', 'demo'])
      await mkdir(join(root, layer), { recursive: true });
    for (const [name, text] of Object.entries(files)) {
      await mkdir(dirname(join(root, name)), { recursive: true });
      await writeFile(join(root, name), text);
    }
    return (await wrongArrows(root)).map((w) => w.rule);
  } finally {
    await rm(root, { recursive: true });
  }
}

const a = (from: string) => `import { b } from '${from}';\nexport const a = b;\n`;
const types = (from: string) => `import type { B } from '${from}';\nexport const a: B = 1;\n`;
const b = 'export const b = 1;\nexport type B = number;\n';

test.each<[string, string, string, string | undefined]>([
  ['src/core/x.ts', 'src/server/y.ts', a('../server/y.ts'), 'src/core may not import this'],
  ['src/server/x.ts', 'src/core/y.ts', a('../core/y.ts'), undefined],
  ['src/server/x.ts', 'src/ui/y.ts', a('../ui/y.ts'), 'src/server may not import this'],
  ['src/ui/x.ts', 'src/server/y.ts', a('../server/y.ts'), 'src/ui may only import types from here'],
  ['src/ui/x.ts', 'src/server/y.ts', types('../server/y.ts'), undefined],
  [
    'src/visitor/x.ts',
    'src/core/rules/y.ts',
    a('../core/rules/y.ts'),
    'src/visitor may only import types from here',
  ],
  [
    'src/server/websites/x.ts',
    'src/server/holdings/y.ts',
    a('../holdings/y.ts'),
    'an area may only use what another offers in its area.ts or offers.ts',
  ],
  ['src/server/websites/x.ts', 'src/server/holdings/area.ts', a('../holdings/area.ts'), undefined],
  ['src/ui/websites/x.ts', 'src/ui/holdings/offers.ts', a('../holdings/offers.ts'), undefined],
  ['src/server/websites/x.ts', 'src/server/websites/y/z.ts', a('./y/z.ts'), undefined],
  [
    'src/ui/desk/x.ts',
    'src/ui/holdings/y.ts',
    a('../holdings/y.ts'),
    'what all areas share may not know one',
  ],
  ['src/ui/areas.ts', 'src/ui/holdings/area.ts', a('./holdings/area.ts'), undefined],
  ['src/ui/websites/x.ts', 'src/ui/parts/y.ts', a('../parts/y.ts'), undefined],
])('%s imports %s', async (from, to, text, rule) => {
  expect(await broken({ [from]: text, [to]: b })).toEqual(rule === undefined ? [] : [rule]);
});

it('tells circles, and what core may not touch', async () => {
  expect(
    await broken({ 'src/ui/x.ts': a('./y.ts'), 'src/ui/y.ts': `${a('./x.ts')}export const b = a;` }),
  ).toContain('a circle');
  expect(await broken({ 'src/core/x.ts': "import { b } from 'node:fs';\nexport const a = b;" })).toEqual([
    'core may not touch the world',
  ]);
});
