import { join } from 'node:path';
import { mkdirSync } from 'node:fs';
import { z } from 'zod';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { NewRequest } from '../../../src/core/cases/requests/request.ts';
import type { RequestAct } from '../../../src/core/cases/requests/request-act.ts';
import type { Context } from '../../../src/server/context.ts';
import { actOnRequest } from '../../../src/server/cases/requests/act-on-request.ts';
import { CASES } from '../../../src/server/cases/area.ts';
import { takeRequest, type Incoming } from '../../../src/server/cases/requests/take-in.ts';
import { viewRequest, type ViewedRequest } from '../../../src/server/cases/requests/view-request.ts';
import { openText } from '../../../src/server/secret.ts';
import { Runner } from '../../../src/server/jobs/runner.ts';
import { readSettings } from '../../../src/server/settings.ts';
import { closeLensThreads } from '../../../src/server/holdings/items/index/ask-lens.ts';
import { freshDatabase } from '../../fresh-database.ts';
import { testAccount } from '../context.ts';
import { folderSource, newSurvey, survey, tempFolder, writeFiles } from '../holdings/estate.ts';

/** A database of its own, a share with real files, and a clock that stands still until it is moved. */
export interface CasesTest {
  readonly ctx: Context;
  readonly officer: Account;
  readonly root: string;
  readonly url: string;
  /** Moves the clock. */
  at(instant: string): void;
  close(): Promise<void>;
}

export async function casesTest(name: string): Promise<CasesTest> {
  const home = tempFolder();
  const { url, store } = await freshDatabase(name);
  let now = new Date('2026-11-04T10:00:00Z');
  const ctx: Context = {
    store,
    settings: readSettings({
      ...{ DATABASE_URL: url, SECRET_KEY: 'ab'.repeat(32), LOG_LEVEL: 'silent', SOURCE_ROOTS: home.path },
      ALLOWED_PRIVATE: `${new URL(url).hostname}:${new URL(url).port || '3306'}`,
      // Mail is queued, and goes nowhere.
      SMTP_URL: 'smtp://127.0.0.1:1',
    }),
    now: () => now,
  };
  const root = join(home.path, 'share');
  mkdirSync(root);
  return {
    ...{ ctx, root, url, officer: await testAccount(ctx) },
    at: (instant) => {
      now = new Date(instant);
    },
    close: async () => {
      await closeLensThreads();
      await store.close();
      home.remove();
    },
  };
}

/** Writes files below the share, and has them surveyed; the number of their source. */
export async function surveyed(
  { ctx, root }: CasesTest,
  files: Readonly<Record<string, string | Buffer>>,
): Promise<number> {
  writeFiles(root, files);
  const source = await folderSource(ctx, root);
  await survey(ctx, await newSurvey(ctx, [source]));
  return source;
}

/** Takes a request in by hand. */
export function request(
  { ctx, officer }: CasesTest,
  given: Partial<z.input<typeof NewRequest>>,
  incoming: Partial<Incoming> = {},
): Promise<number> {
  return ctx.store.transaction(async (tx) => {
    const { id } = await takeRequest(
      tx,
      ctx,
      NewRequest.parse({ kind: 'access', region: 'SE', subject: {}, ...given }),
      { way: 'hand', by: officer.id, ...incoming },
    );
    return id;
  });
}

export function act({ ctx, officer }: CasesTest, id: number, does: RequestAct): Promise<void> {
  return actOnRequest(ctx, officer, id, does);
}

export function view({ ctx, officer }: CasesTest, id: number): Promise<ViewedRequest> {
  return viewRequest(ctx, officer, id);
}

/** Works through every job that waits. */
export async function workOff({ ctx }: CasesTest): Promise<void> {
  const runner = new Runner(
    { ...ctx, now: ctx.now },
    CASES.jobs ?? [],
    { quick: 1, browser: 1, long: 1 },
    20,
  );
  runner.start();
  try {
    for (let tries = 0; tries < 1200; tries++) {
      const open = await ctx.store.one(
        z.object({ n: z.coerce.number() }),
        "SELECT COUNT(*) AS n FROM job WHERE state IN ('waiting', 'running') AND kind <> 'survey'",
      );
      if ((open?.n ?? 0) === 0) return;
      await new Promise((done) => setTimeout(done, 50));
    }
    throw new Error('Jobs are still open.');
  } finally {
    await runner.stop();
  }
}

export interface QueuedMail {
  readonly to: string;
  readonly subject: string;
  readonly text: string;
}

/** Mail that waits to go out, in order. */
export async function queuedMail({ ctx }: CasesTest): Promise<readonly QueuedMail[]> {
  const rows = await ctx.store.all(
    z.object({ content: z.string() }),
    "SELECT content FROM outgoing_message WHERE channel = 'mail' ORDER BY id",
  );
  return rows.map((r) => JSON.parse(openText(ctx.settings.SECRET_KEY, r.content)) as QueuedMail);
}
