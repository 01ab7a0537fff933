import type { Account } from '../../../src/core/accounts/authority.ts';
import { ANY_DISPOSAL_RUN } from '../../../src/server/retention/disposal/disposal-run.ts';
import { gatherDue } from '../../../src/server/retention/disposal/gather.ts';
import { runAgreed } from '../../../src/server/retention/disposal/run-agreed.ts';
import { sayToDisposal } from '../../../src/server/retention/disposal/say.ts';
import { withWorkers } from '../holdings/estate.ts';
import { disposals, heldFiles, rule, type RetentionTest } from './retention.ts';

let folders = 0;

/** Files of a folder of their own, with a rule for it: old ones that are due, and one that is not. */
export async function beginDisposal(
  test: RetentionTest,
  old: readonly string[],
  more: Parameters<typeof rule>[1] = {},
  held: { readonly text?: (name: string) => string; readonly people?: number } = {},
) {
  const folder = `f${folders++}`;
  const path = (name: string) => `${folder}/${name}`;
  const { text = (name) => `old ${folder} ${name}`, people = 0 } = held;
  const items = await heldFiles(test, [
    ...old.map((name) => ({ path: path(name), changed: '2020-01-15', text: text(name), people })),
    { path: path('new.txt'), changed: '2026-10-01' },
  ]);
  const id = await rule(
    test,
    {
      ...{ places: [`${test.source}/${folder}`], keep: { count: 2, unit: 'years' }, then: 'ask' },
      ...{ agree: 'one', undoDays: 0, ...more },
    },
    'put in force',
  );
  await gatherDue(test.ctx);
  const [disposal] = (await disposals(test)).filter((d) => d.rule_id === id);
  return { rule: id, folder, path, item: (name: string) => items.get(path(name)) ?? 0, disposal };
}

export const speaker = (a: Account) => ({ address: a.email, name: a.name, account: a.id });
export const YES = { agrees: true, reason: '', until: null };

export function agreeTo(test: RetentionTest, id: string, by = test.officer) {
  return sayToDisposal(test.ctx, speaker(by), id, YES);
}

/** Has all that is agreed to let go. */
export async function letAllGo(test: RetentionTest, workers = 1): Promise<void> {
  await withWorkers(
    test.ctx,
    workers,
    async () => {
      for (let tries = 0; tries < 400; tries++) {
        await runAgreed(test.ctx);
        const open = (await disposals(test)).filter((d) => d.state === 'agreed' || d.state === 'running');
        if (open.length === 0) return;
        await new Promise((done) => setTimeout(done, 40));
      }
      throw new Error('It did not end.');
    },
    [ANY_DISPOSAL_RUN],
  );
}
