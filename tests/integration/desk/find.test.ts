import { afterAll, expect, it } from 'vitest';
import { find } from '../../../src/server/desk/find.ts';
import { addDetector } from '../../../src/server/holdings/detection/detectors/new-detector.ts';
import { addSet } from '../../../src/server/holdings/detection/labelled/labelled-sets.ts';
import { testAccount, testContext, testSite, unique } from '../context.ts';

const ctx = testContext();
afterAll(() => ctx.store.close());

it('finds what every area has by a part of its name, whatever its case, for those who may see it', async () => {
  const officer = await testAccount(ctx);
  const name = unique('Locker Number ');
  const { id } = await addDetector(ctx, officer.id, {
    kind: 'pattern',
    name,
    from: { format: ['QX-1234'] },
  });
  await addSet(ctx, officer.id, name);
  const site = await testSite(ctx);
  const kinds = async (text: string, role?: 'site manager' | 'data steward') =>
    (await find(ctx, await testAccount(ctx, role), text)).map((f) => `${f.kind} ${f.link}`);
  const part = name.slice(3).toLowerCase();
  expect(await kinds(part)).toEqual([
    `detector /holdings/detectors/${id}`,
    expect.stringMatching(/^labelled set \/holdings\/sets\/\d+$/),
  ]);
  expect(await kinds(part, 'site manager')).toEqual([]);
  expect(await kinds(site.host.toUpperCase())).toEqual([`site /websites/${encodeURIComponent(site.host)}`]);
  expect(await kinds('saltmiles%')).toEqual([]);
  expect(await kinds('12', 'data steward')).toContain('ledger /evidence/ledger?entry=12');
});
