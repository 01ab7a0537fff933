import { renderToStaticMarkup } from 'react-dom/server';
import { createElement } from 'react';
import { afterAll, describe, expect, it, vi } from 'vitest';
import { z } from 'zod';
import type { Action } from '../../../src/core/accounts/action.ts';
import type { CoreArea } from '../../../src/core/area.ts';
import type { TodayKindName } from '../../../src/core/desk/today-kinds.ts';
import type { ServerArea } from '../../../src/server/area.ts';
import type { RuleKind } from '../../../src/server/rules/rule-kind.ts';
import type { UiArea } from '../../../src/ui/area.ts';

/** An area that nothing knows but the three lists: berths of a port, and what is let to whom. */
const READ = 'berths.read' as Action;
const EDIT = 'berths.edit' as Action;

const BERTH: RuleKind<{ ship: string }> = {
  object: 'berth',
  content: z.object({ ship: z.string().min(1) }),
  name: (_store, id, { ship }) => `Berth ${id} for ${ship}`,
  place: (_store, id) => `/berths/${id}`,
  vocabulary: async () => ({}),
};

const CORE: CoreArea = {
  area: 'berths',
  actions: {
    'berths.read': { words: 'seeing berths', roles: ['auditor'] },
    'berths.edit': { words: 'letting berths', roles: [] },
  },
  objects: { berth: { words: 'berth', see: READ } },
  today: { blocked: { words: 'blocked', tone: 'wrong', place: 1 } },
};

let inspected = 0;
const SERVER: ServerArea = {
  area: 'berths',
  rules: [{ kind: BERTH as RuleKind<unknown>, see: READ, edit: EDIT, force: EDIT }],
  jobs: [
    {
      kind: 'inspect',
      lane: 'quick',
      see: READ,
      start: EDIT,
      work: async () => ({ inspected: ++inspected }),
      ended: (tx, ctx, job) =>
        putOnToday(tx, {
          kind: 'blocked' as TodayKindName,
          key: job.object_id,
          action: READ,
          words: `Berth ${job.object_id} is blocked`,
          detail: '',
          link: `/berths/${job.object_id}`,
          since: ctx.now(),
        }),
    },
  ],
  upkeep: [{ name: 'tides', everyMs: 1000, work: async () => undefined }],
  figures: [
    {
      id: 'berths.let',
      name: 'Berths let',
      definition: 'Berths that are let today.',
      unit: 'berth',
      good: 'more',
      see: READ,
      link: '/berths',
      value: async () => ({ value: 2, of: 3 }),
      rows: async () =>
        ['Nordkaj 1', 'Nordkaj 2'].map((name) => ({ key: name, name, n: 1, link: '/berths', parts: {} })),
    },
  ],
  finders: [
    {
      action: READ,
      find: async (_ctx, text) => [{ kind: 'berth', words: `Berth ${text}`, detail: '', link: '/berths/1' }],
    },
  ],
};

const UI: UiArea = {
  area: 'berths',
  name: 'Berths',
  action: READ,
  view: async () => () => null,
  finds: ['a berth'],
  commands: [{ words: 'Let a berth', action: EDIT, link: '/berths?new=berth' }],
};

type Lists<T> = { AREAS: readonly T[] };
const more =
  <T>(area: () => T) =>
  async (original: () => Promise<Lists<T>>) => ({ AREAS: [...(await original()).AREAS, area()] });
vi.mock('../../../src/core/areas.ts', (original) =>
  more(() => CORE)(original as () => Promise<Lists<CoreArea>>),
);
vi.mock('../../../src/server/areas.ts', (original) =>
  more(() => SERVER)(original as () => Promise<Lists<ServerArea>>),
);
vi.mock('../../../src/ui/areas.ts', (original) => more(() => UI)(original as () => Promise<Lists<UiArea>>));

const { authorize, may } = await import('../../../src/core/accounts/authority.ts');
const { todayKind } = await import('../../../src/core/desk/today-kinds.ts');
const { AREAS } = await import('../../../src/server/areas.ts');
const { deskState } = await import('../../../src/server/desk/desk-state.ts');
const { figuresOf, keepFigures } = await import('../../../src/server/desk/figures.ts');
const { find } = await import('../../../src/server/desk/find.ts');
const { recountRules } = await import('../../../src/server/desk/recount-rules.ts');
const { cancelJob } = await import('../../../src/server/desk/job-authority.ts');
const { putOnToday, todayItems } = await import('../../../src/server/desk/today.ts');
const { addJob, findJob } = await import('../../../src/server/jobs/job.ts');
const { Runner } = await import('../../../src/server/jobs/runner.ts');
const { moveRule } = await import('../../../src/server/rules/rule-moves.ts');
const { insertRule, listRules, removeRule } = await import('../../../src/server/rules/rule-store.ts');
const { AccountContext } = await import('../../../src/ui/desk/account-context.ts');
const { TopBar } = await import('../../../src/ui/desk/TopBar.tsx');
const { testAccount, testContext } = await import('../context.ts');

const ctx = testContext();
afterAll(async () => {
  await removeRule(ctx.store, BERTH, 1);
  await ctx.store.run("DELETE FROM rule_count WHERE kind = 'berth'");
  await ctx.store.close();
});

const people = async () => ({
  officer: await testAccount(ctx),
  auditor: await testAccount(ctx, 'auditor'),
  manager: await testAccount(ctx, 'site manager'),
});

describe('an area that only the three lists name', () => {
  it('has its permissions, with their words', async () => {
    const { officer, auditor, manager } = await people();
    expect([officer, auditor, manager].map((a) => may(a, READ))).toEqual([true, true, false]);
    expect([officer, auditor, manager].map((a) => may(a, EDIT))).toEqual([true, false, false]);
    expect(authorize(auditor, EDIT, { kind: 'berth', id: 1 })).toMatchObject({
      why: 'Your role, auditor, does not include letting berths.',
    });
  });

  it('has its job done, shown to those whom it concerns, and its item put on Today', async () => {
    const { officer, auditor, manager } = await people();
    const add = (id: string) =>
      ctx.store.transaction((tx) =>
        addJob(tx, ctx.now(), {
          kind: 'inspect',
          title: 'Inspecting',
          about: { object: 'berth', id },
          payload: {},
          createdBy: null,
        }),
      );
    const held = await add('8');
    await expect(cancelJob(ctx, auditor, held)).rejects.toMatchObject({ status: 403 });
    await expect(cancelJob(ctx, manager, held)).rejects.toMatchObject({ status: 404 });
    await cancelJob(ctx, officer, held);
    const id = await add('7');
    const runner = new Runner(
      ctx,
      AREAS.flatMap((a) => a.jobs ?? []).filter((k) => k.kind === 'inspect'),
    );
    runner.start();
    await expect.poll(async () => (await findJob(ctx.store, id))?.state).toBe('done');
    await runner.stop();
    const shown = async (who: typeof officer) => (await deskState(ctx, who)).jobs.map((j) => j.id);
    expect(await shown(auditor)).toContain(id);
    expect(await shown(manager)).not.toContain(id);
    const words = async (who: typeof officer) => (await todayItems(ctx, who)).map((i) => i.words);
    expect(await words(auditor)).toContain('Berth 7 is blocked');
    expect(await words(manager)).not.toContain('Berth 7 is blocked');
    expect((await todayItems(ctx, officer)).find((i) => i.kind === 'blocked')).toBeDefined();
    expect(todayKind('blocked')).toMatchObject({ tone: 'wrong' });
  });

  it('is found', async () => {
    const { auditor, manager } = await people();
    expect((await find(ctx, auditor, 'seven')).map((f) => f.words)).toContain('Berth seven');
    expect((await find(ctx, manager, 'seven')).map((f) => f.words)).not.toContain('Berth seven');
  });

  it('has its rules counted with every move, and anew', async () => {
    const { officer, auditor, manager } = await people();
    const before = await deskState(ctx, officer);
    await insertRule(ctx.store, ctx.now(), BERTH, 1, { ship: 'MS Hale' }, officer.id);
    await ctx.store.transaction((tx) => moveRule(tx, ctx.now(), BERTH, officer.id, 1, 'put in force', 1));
    expect(await listRules(ctx.store, BERTH, ['in force'])).toMatchObject([
      { id: '1', name: 'Berth 1 for MS Hale' },
    ]);
    expect((await deskState(ctx, officer)).inForce).toBe(before.inForce + 1);
    const auditors = (await deskState(ctx, auditor)).inForce;
    expect((await deskState(ctx, manager)).inForce).toBeLessThan(auditors);
    await ctx.store.run("UPDATE rule_count SET in_force = 99 WHERE kind = 'berth'");
    await ctx.store.transaction(recountRules);
    expect((await deskState(ctx, auditor)).inForce).toBe(auditors);
  });

  it('has its figure kept day by day', async () => {
    const { auditor, manager } = await people();
    const let_ = async (who: typeof auditor) =>
      (await figuresOf(ctx, who, 10)).find((f) => f.id === 'berths.let');
    for (const day of ['2026-11-19T10:00:00Z', '2026-11-20T01:00:00Z', '2026-11-20T23:00:00Z']) {
      ctx.at(day);
      await keepFigures(ctx);
    }
    expect((await let_(auditor))?.days).toMatchObject([
      { day: '2026-11-19', value: 2, of: 3 },
      { day: '2026-11-20', value: 2, of: 3, countedAt: '2026-11-20T23:00:00.000Z' },
    ]);
    expect(await let_(manager)).toBeUndefined();
    ctx.at(new Date().toISOString());
  });

  it('stands in the top bar for those who may come', async () => {
    const { auditor, manager } = await people();
    const bar = (account: typeof auditor) =>
      renderToStaticMarkup(
        createElement(
          AccountContext.Provider,
          { value: account },
          createElement(TopBar, { area: 'berths', onFind: () => {} }),
        ),
      );
    expect(bar(auditor)).toMatch(/<a[^>]*href="\/berths"[^>]*aria-current="page"[^>]*>Berths/);
    expect(bar(manager)).not.toContain('Berths');
  });
});
