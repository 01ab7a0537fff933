import { z } from 'zod';
import { PatternDetector } from '../../../../core/holdings/detection/detector/detector.ts';
import { detectorVocabulary } from '../../../../core/holdings/detection/detector/detector-vocabulary.ts';
import { builtInDetectors } from '../../../../core/holdings/detection/library/library.ts';
import {
  DetectorDraft,
  OwnDetector,
  type DetectorKind,
} from '../../../../core/holdings/detection/detector/own-detector.ts';
import { patternSentence } from '../../../../core/holdings/detection/detector/pattern-sentence.ts';
import { redactDetectorChange } from '../../../../core/holdings/detection/detector/redact.ts';
import { sentenceText } from '../../../../core/rules/sentence.ts';
import { RefusedError } from '../../../../core/refusal.ts';
import { versionInForce, versionRehearsed, type Act, type Stage } from '../../../../core/rules/rule.ts';
import { record } from '../../../evidence/ledger.ts';
import * as rules from '../../../rules/rule-store.ts';
import type { Key, RuleKind } from '../../../rules/rule-kind.ts';
import { rulesNaming } from '../../../rules/rule-references.ts';
import { readRuleVersion } from '../../../rules/rule-versions.ts';
import { viewRule, type RuleView } from '../../../rules/rule-view.ts';
import { CHECKING } from '../../../http/shares.ts';
import { Count } from '../../../store/columns.ts';
import { isDuplicate, type Queries } from '../../../store/pool.ts';
import { compileComplaints, newRisks } from '../pattern/pattern-complaints.ts';
import { columnsDigest } from '../roster/roster-columns.ts';

export const DETECTOR: RuleKind<OwnDetector> = {
  object: 'detector',
  content: OwnDetector,
  name: (_store, id, { name }) => name || String(id),
  vocabulary: async () => detectorVocabulary,
  text: async (store, _id, content) => {
    if (content.kind !== 'pattern') return '';
    const own = (await rules.listRules(store, DETECTOR)).map((d) => ({ value: d.id, words: d.name }));
    const builtIn = builtInDetectors().map((d) => ({ value: d.id, words: d.name }));
    return sentenceText(patternSentence(content, { detectors: [...own, ...builtIn] }), content);
  },
  redact: redactDetectorChange,
  draft: DetectorDraft,
  refersTo: (content) =>
    content.kind === 'pattern' ? asksFor(content).map((id) => ({ object: 'detector', id })) : [],
  place: (_store, id) => `/holdings/${encodeURIComponent(String(id))}`,
  check,
  mayMove,
  blocks,
  removed: async (tx, id) => {
    await tx.run('DELETE FROM detector WHERE id = ?', [id]);
  },
  removedDetail: ({ kind }) => ({ kind }),
};

type Saving = Parameters<NonNullable<RuleKind<OwnDetector>['check']>>[0];

export interface ListedOwnDetector {
  readonly id: string;
  readonly name: string;
  readonly kind: DetectorKind;
  readonly category: string;
  readonly stage: Stage;
}

export async function listOwnDetectors(store: Queries): Promise<readonly ListedOwnDetector[]> {
  const all = await rules.listRules(store, DETECTOR);
  return all.map(({ id, content, stage }) => ({
    id,
    name: content.name,
    kind: content.kind,
    category: content.kind === 'pattern' ? content.category : 'own',
    stage,
  }));
}

export interface FoundDetector extends RuleView<OwnDetector> {
  readonly copiedFrom: string;
  readonly usedBy: readonly DetectorUse[];
}

/** Something that stands on a detector. */
export interface DetectorUse {
  readonly what: 'detector' | 'labelled set';
  readonly id: string;
  readonly name: string;
  readonly how: string;
}

/** `undefined` where no detector of the organisation’s own has that id. */
export async function findOwnDetector(store: Queries, id: string): Promise<FoundDetector | undefined> {
  const row = await store.one(
    z.object({ copied_from: z.string() }),
    'SELECT copied_from FROM detector WHERE id = ?',
    [id],
  );
  if (!row) return undefined;
  const rule = await viewRule(store, DETECTOR, id);
  return {
    ...rule,
    content: { ...rule.content, id } as OwnDetector,
    copiedFrom: row.copied_from,
    usedBy: await usesOf(store, id),
  };
}

/** What reads its findings: detectors whose context asks for it, and labelled sets that mark it. */
export async function usesOf(store: Queries, id: string): Promise<readonly DetectorUse[]> {
  const [own, sets] = await Promise.all([
    rulesNaming(store, DETECTOR.object, id),
    store.all(
      z.object({ id: z.number(), name: z.string(), n: Count }),
      'SELECT s.id, s.name, COUNT(*) AS n FROM labelled_mark m JOIN labelled_text t ON t.id = m.text_id JOIN labelled_set s ON s.id = t.set_id WHERE m.label = ? GROUP BY s.id, s.name ORDER BY s.name',
      [id],
    ),
  ]);
  return [
    ...builtInDetectors()
      .filter((d) => asksFor(d).includes(id))
      .map((d): DetectorUse => ({ what: 'detector', id: d.id, name: d.name, how: 'ships with Yare Warden' })),
    ...own
      .filter((r) => r.kind === DETECTOR.object)
      .map((r): DetectorUse => ({ what: 'detector', id: r.id, name: r.name, how: r.stage.state })),
    ...sets.map((s): DetectorUse => ({
      what: 'labelled set',
      id: String(s.id),
      name: s.name,
      how: `marked in ${s.n} ${s.n === 1 ? 'text' : 'texts'}`,
    })),
  ];
}

/** Detectors that the context of a pattern asks for. */
function asksFor(detector: PatternDetector): readonly string[] {
  return (detector.context ?? []).flatMap((c) => (c.detector ? [c.detector] : []));
}

export async function takenIds(store: Queries): Promise<Set<string>> {
  const rows = await store.all(z.object({ id: z.string() }), 'SELECT id FROM detector');
  return new Set([...rows.map((r) => r.id), ...builtInDetectors().map((d) => d.id)]);
}

/** Adds a detector as a draft, in the caller's transaction. */
export async function insertDetector(
  tx: Queries,
  now: Date,
  accountId: number,
  content: OwnDetector,
  copiedFrom: string,
): Promise<void> {
  try {
    await rules.insertRule(tx, now, DETECTOR, content.id, content, accountId);
    await tx.run('INSERT INTO detector (id, kind, copied_from) VALUES (?, ?, ?)', [
      content.id,
      content.kind,
      copiedFrom,
    ]);
  } catch (error) {
    if (!isDuplicate(error)) throw error;
    throw new RefusedError(`There is a detector “${content.id}” already.`, [
      { field: 'name', message: 'Give it another name.' },
    ]);
  }
  await record(tx, now, {
    actor: accountId,
    action: 'detector.add',
    object: 'detector',
    objectId: content.id,
    detail: { kind: content.kind, name: content.name, ...(copiedFrom ? { copiedFrom } : {}) },
  });
}

/** A detector keeps its kind and id; a pattern that some input would hang is refused, with that input. */
function check({ by, key, saved, content }: Saving): Promise<void> {
  if (content.kind !== saved.kind || content.id !== key)
    throw new RefusedError('A detector keeps its kind and its id.', [
      { field: 'content.kind', message: `This one is ${saved.kind}, ${key}.` },
    ]);
  if (content.kind !== 'pattern') return Promise.resolve();
  return CHECKING.use(by, async () => {
    const complaints = await compileComplaints(content);
    if (complaints.length > 0) throw new RefusedError('This cannot be read as it is.', complaints);
    const risks = await newRisks(content, saved as PatternDetector);
    if (risks.length > 0) throw new RefusedError('A text could make this pattern run for ever.', risks);
  });
}

/** What others in force ask for goes on. */
async function mayMove(tx: Queries, key: Key, act: Act['act']): Promise<void> {
  if (act !== 'retire' && act !== 'pause') return;
  const asking = (await usesOf(tx, String(key))).filter((u) => u.what === 'detector' && u.how === 'in force');
  if (asking.length > 0)
    throw new RefusedError(
      `${asking.map((u) => `“${u.name}”`).join(', ')} asks for what it finds.`,
      [{ field: 'act', message: 'Take it out of their context first.' }],
      409,
    );
}

/** What a whole draft still lacks outside itself. */
async function blocks(store: Queries, key: string | number, content: OwnDetector) {
  switch (content.kind) {
    case 'pattern': {
      if (content.anchor.by === 'words' && content.anchor.words.join() === '?')
        return [{ field: 'anchor', message: 'Say what it looks for: words, or how it is written.' }];
      const known = await takenIds(store);
      return [
        ...(await compileComplaints(content)),
        ...content.context
          .filter((c) => c.detector !== undefined && !known.has(c.detector))
          .map((c) => ({ field: 'context', message: `There is no detector “${c.detector}”.` })),
      ];
    }
    case 'roster': {
      const built = await store.one(
        z.object({ n: Count }),
        'SELECT COUNT(*) AS n FROM roster_build WHERE detector_id = ? AND columns_digest = ?',
        [key, columnsDigest(content)],
      );
      return built?.n ? [] : [{ field: 'keys', message: 'Build it from a table with these columns first.' }];
    }
    case 'likeness':
      return [];
    case 'learned': {
      const trained = await store.one(
        z.object({ n: Count }),
        'SELECT COUNT(*) AS n FROM training WHERE detector_id = ? AND number = ?',
        [key, content.training],
      );
      return trained?.n ? [] : [{ field: 'training', message: 'Train it first.' }];
    }
  }
}

/** A detector as it is used: with the number of the version, and whether that is only rehearsed. */
export interface UsedDetector {
  readonly detector: OwnDetector;
  readonly version: number;
  readonly rehearsed: boolean;
}

/** What is in force, and what is rehearsed; of a rehearsed change to one in force, both. */
export async function usedDetectors(store: Queries): Promise<readonly UsedDetector[]> {
  const rows = (await rules.listRules(store, DETECTOR, ['in force', 'rehearsing'])).toSorted((a, b) =>
    a.id < b.id ? -1 : 1,
  );
  const used: UsedDetector[] = [];
  for (const { id, stage } of rows) {
    const versions = new Set([versionInForce(stage), versionRehearsed(stage)]);
    for (const version of versions) {
      if (version === undefined) continue;
      const detector = await readRuleVersion(store, DETECTOR, id, version);
      used.push({ detector, version, rehearsed: version !== versionInForce(stage) });
    }
  }
  return used;
}

/** Own detectors in force that are patterns: all that an engine needs of them is in them. */
export async function ownPatterns(store: Queries): Promise<readonly PatternDetector[]> {
  return (await usedDetectors(store)).flatMap(({ detector, version, rehearsed }) =>
    detector.kind === 'pattern' && !rehearsed ? [{ ...detector, version }] : [],
  );
}

/** Ids and names of own detectors in force that need data of their own, which does not leave the desk. */
export async function unlikePatterns(store: Queries): Promise<ReadonlyMap<string, string>> {
  const used = await usedDetectors(store);
  return new Map(used.flatMap(({ detector: d }) => (d.kind === 'pattern' ? [] : [[d.id, d.name] as const])));
}
