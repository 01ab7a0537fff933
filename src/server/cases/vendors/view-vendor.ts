import type { LinkedFacts } from '../../../core/cases/linked/linked.ts';
import type { Clause, ProposedClause } from '../../../core/cases/vendors/contract-clauses.ts';
import type { VendorRecord } from '../../../core/cases/vendors/vendor-act.ts';
import {
  clausesFor,
  vendorProgress,
  type VendorProgress,
} from '../../../core/cases/vendors/vendor-progress.ts';
import { accountNames } from '../../accounts/account-names.ts';
import type { Context } from '../../context.ts';
import { filesOf, type DossierFile } from '../dossiers/dossier-files.ts';
import { knowNow, stepsOf, type DossierStep } from '../dossiers/dossiers.ts';
import { linkOptions } from '../dossiers/linked-facts.ts';
import { proposedClauses } from './contract.ts';
import { listQuestionnaires } from './questionnaires.ts';
import { VENDOR } from './vendor-kind.ts';

export interface ViewedVendor {
  readonly id: number;
  readonly progress: VendorProgress;
  readonly record: VendorRecord;
  readonly facts: LinkedFacts;
  readonly clauses: readonly {
    readonly clause: Pick<Clause, 'id' | 'article' | 'words'>;
    readonly proposed: ProposedClause | null;
    readonly said: VendorRecord['clauses'][string] | null;
  }[];
  /** The newest contract that was read. */
  readonly contract: { readonly name: string; readonly at: string } | null;
  readonly files: readonly DossierFile[];
  readonly questionnaires: Awaited<ReturnType<typeof listQuestionnaires>>;
  readonly steps: readonly DossierStep[];
  readonly names: Readonly<Record<number, string>>;
  readonly options: Awaited<ReturnType<typeof linkOptions>>;
  readonly today: string;
}

/** All of a vendor but what is written. Throws a RefusedError (404). */
export async function viewVendor(ctx: Context, id: number): Promise<ViewedVendor> {
  const known = await knowNow(ctx, VENDOR, id);
  const { record, content, facts, today } = known;
  const [contract, files, questionnaires, steps, names, options] = await Promise.all([
    proposedClauses(ctx.store, id),
    filesOf(ctx.store, VENDOR.object, id),
    listQuestionnaires(ctx.store),
    stepsOf(ctx.store, VENDOR.object, id),
    accountNames(ctx.store),
    linkOptions(ctx),
  ]);
  const said = [
    record.approval,
    record.exit?.begun,
    ...Object.values(record.clauses),
    ...Object.values(record.accepted),
    ...record.events.map((e) => e.seen),
  ];
  return {
    ...{ id, record, facts, files, questionnaires, steps, options, today },
    progress: vendorProgress(known),
    clauses: clausesFor(content).map(({ id: of, article, words }) => ({
      clause: { id: of, article, words },
      proposed: contract?.clauses.find((c) => c.id === of) ?? null,
      said: record.clauses[of] ?? null,
    })),
    contract: contract && { name: contract.name, at: contract.at },
    names: Object.fromEntries(
      said.flatMap((s) => (s ? [[s.by, names.get(s.by) ?? 'somebody who left']] : [])),
    ),
  };
}
