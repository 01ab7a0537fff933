import { expect, it, test } from 'vitest';
import { arrowsOf, wrongArrows } from './layers.ts';

it('finds no wrong arrow in the project', async () => {
  expect(await wrongArrows()).toEqual([]);
});

test.each([
  ['src/core', 'src/core/a.ts', "import { x } from '../server/log.ts';", 1],
  ['src/core', 'src/core/a.ts', "import { readFile } from 'node:fs';", 1],
  ['src/core', 'src/core/a.ts', 'export const now = () => Date.now();', 1],
  ['src/core', 'src/core/a.ts', "// Date.now() is not used\nimport { z } from 'zod';", 0],
  ['src/ui', 'src/ui/desk/a.tsx', "import { log } from '../../server/log.ts';", 1],
  ['src/ui', 'src/ui/desk/a.tsx', "import type { DeskState } from '../../server/desk.ts';", 0],
  ['src/visitor', 'src/visitor/a.ts', "import { may } from '../core/accounts/authority.ts';", 1],
  ['src/server', 'src/server/a.ts', "import { Button } from '../ui/parts/Button.tsx';", 1],
  ['src/server', 'src/server/a.ts', "import {\n  a,\n} from '../pages/x.ts';", 1],
])('%s: %s with %o has %i', (layer, name, text, count) => {
  expect(arrowsOf(name, text, layer)).toHaveLength(count);
});
