import { SCOPE_KINDS } from '../../core/accounts/scope.ts';
import type { Account } from '../../core/accounts/authority.ts';
import type { ServerArea } from '../area.ts';
import type { Found } from '../desk/found.ts';
import type { Context } from '../context.ts';
import { putOnToday } from '../desk/today.ts';
import { withCapital } from '../../core/text/as-sentence.ts';
import { logFailure } from '../processes/failure-log.ts';
import type { PlainKind } from '../rules/plain-object.ts';
import { forgetOldFigures } from '../figures/kept-figures.ts';
import { BOARD, listBoards } from './boards/boards.ts';
import { askDueReports } from './reports/due-reports.ts';
import { letFilesGo } from './reports/report-files.ts';
import { listReports, mayHaveReport, ownReport, REPORT } from './reports/reports.ts';
import { EVIDENCE_FIGURES } from './figures.ts';
import { seal } from './ledger.ts';
import { noteHead } from './noted-head.ts';

export const EVIDENCE: ServerArea = {
  area: 'evidence',
  figures: EVIDENCE_FIGURES,
  objects: [
    { kind: BOARD as PlainKind<unknown>, see: 'boards.read', edit: 'boards.edit' },
    {
      ...{ kind: REPORT as PlainKind<unknown>, see: 'reports.read', edit: 'reports.edit' },
      wholeOf: [...SCOPE_KINDS.keys()],
      guard: (store, id, account, does) => ownReport(store, Number(id), account, does),
    },
  ],
  checking: [
    {
      ...{ see: 'ledger.read', one: 'backup proved', many: 'backups proved' },
      sql: 'SELECT COALESCE(SUM(proved_at > ?), 0) AS n, MAX(proved_at) AS at FROM backup_run',
    },
    {
      ...{ see: 'ledger.read', one: 'ledger entry sealed', many: 'ledger entries sealed' },
      sql: 'SELECT COALESCE(SUM(IF(sealed_at > ?, size, 0)), 0) AS n, MAX(sealed_at) AS at FROM ledger_tree',
    },
  ],
  upkeep: [
    { name: 'sealing', everyMs: 5_000, work: sealAndNote },
    { name: 'old figures', everyMs: 3_600_000, work: forgetOldFigures },
    { name: 'reports that are due', everyMs: 15_000, work: askDueReports },
    { name: 'old reports', everyMs: 600_000, work: letFilesGo },
  ],
  finders: [
    { action: 'reports.read', find: findReports },
    { action: 'boards.read', find: findBoards },
    {
      action: 'ledger.read',
      find: async (_ctx, text) =>
        /^\d+$/.test(text)
          ? [
              {
                kind: 'ledger',
                words: `Ledger entry ${text}`,
                detail: 'Evidence',
                link: `/evidence/ledger?entry=${text}`,
              },
            ]
          : [],
    },
  ],
};

/** Seals, and notes the head where a start finds it that is on another database, or on less of this one. */
async function sealAndNote(ctx: Context): Promise<void> {
  await seal(ctx.store, ctx.now());
  const lost = await noteHead(ctx.store, ctx.settings.DATA_DIR);
  if (!lost) return;
  logFailure('the ledger lacks a head that was noted', new Error(lost.head), { tree: lost.number });
  await ctx.store.transaction((tx) =>
    putOnToday(tx, {
      kind: 'ledger',
      key: String(lost.number),
      action: 'ledger.read',
      words: 'The ledger is not the one it was: a head that was noted is missing',
      detail: `Tree ${lost.number}, sealed ${lost.sealedAt}, head ${lost.head.slice(0, 16)}…: the database was cut, rewritten or brought back from an older copy`,
      link: '/evidence/ledger?verify=now',
      since: ctx.now(),
      dismissable: true,
    }),
  );
}

async function findReports({ store }: Context, text: string, account: Account): Promise<readonly Found[]> {
  const all = (await listReports(store)).filter((r) => mayHaveReport(account, r, 'see'));
  return named(text, 'report', '/evidence/reports', all, (r) => r.report.name);
}

async function findBoards({ store }: Context, text: string): Promise<readonly Found[]> {
  return named(text, 'board', '/evidence/boards', await listBoards(store), (b) => b.content.name);
}

/** There are few of both: a register shows them all. */
function named<T extends { readonly id: number }>(
  text: string,
  kind: string,
  place: string,
  all: readonly T[],
  nameOf: (one: T) => string,
): readonly Found[] {
  const wanted = text.toLowerCase();
  return all
    .filter((one) => nameOf(one).toLowerCase().includes(wanted))
    .slice(0, 5)
    .map((one) => ({ kind, words: nameOf(one), detail: withCapital(kind), link: `${place}/${one.id}` }));
}
