import { gravest, isHigh, weighRisk } from '../impact/risk.ts';
import { cameSince, marksOf, type LinkedFacts, type Mark } from '../linked/linked.ts';
import { dueNeed, lookAgain, lookAgainAt, need, type Need } from '../needs.ts';
import { AI_CLASSES, classify, type Classed } from './ai-act.ts';
import { stageOf, type AiRecord, type AiStage } from './ai-record.ts';
import type { AiContent } from './ai-system.ts';

export interface AiFacts {
  readonly content: AiContent;
  readonly record: AiRecord;
  readonly facts: LinkedFacts;
  /** ISO 8601. */
  readonly today: string;
}

export interface AiProgress {
  readonly state: AiStage;
  readonly classed: Classed;
  readonly needs: readonly Need[];
  readonly changes: readonly string[];
  /** Nothing stands in the way of approving it. */
  readonly ready: boolean;
}

/** What a system is and has, so that a later moment can be told from this one. */
export function aiMarks(content: AiContent, facts: LinkedFacts): readonly Mark[] {
  const version = [content.card?.name, content.card?.version].filter(Boolean).join(' ');
  return [
    ...marksOf(facts),
    ...content.people.map((p) => ({
      id: `affected ${p.toLowerCase()}`,
      words: `it affects other people: ${p}`,
    })),
    ...(version ? [{ id: `model ${version}`, words: `another model: ${version}` }] : []),
    { id: `decides ${content.decides}`, words: 'it decides otherwise than before' },
  ];
}

/** How far an AI system is, and what has to happen next. */
export function aiProgress({ content, record, facts, today }: AiFacts): AiProgress {
  const classed = classify(content.answers, content.role);
  const state = stageOf(record);
  const changes = record.approval ? cameSince(record.approval.marks, aiMarks(content, facts)) : [];
  const at = (needs: readonly Need[]): AiProgress => ({ state, classed, needs, changes, ready: false });
  if (state === 'retired' || classed.class === 'no ai') return at([]);
  const running = state === 'used';
  if (classed.class === 'prohibited')
    return at([
      need(`${running ? 'stop it now' : 'do not use it'}: prohibited by Art. 5`, {
        step: 'stage',
        wrong: true,
      }),
    ]);
  const found: Need[] = [];
  const [open] = classed.open;
  if (content.purpose.trim() === '') found.push(need('say what it is for'));
  if (content.owner.trim() === '') found.push(need('say who answers for it'));
  if (open)
    found.push(
      need(`answer for its class (${classed.open.length} open): ${open.article}, ${open.words}`, {
        step: 'answer',
        wrong: running,
      }),
    );
  if (content.people.length === 0 && classed.class !== 'minimal') found.push(need('say whom it affects'));
  const high = classed.class === 'high';
  if (high && content.oversight.trim() === '') found.push(need('say who watches over it, Art. 14 and 26(2)'));
  if ((high || facts.data.length > 0) && content.risks.length === 0)
    found.push(need('name the risks to people', { step: 'risks' }));
  if (
    (high || content.decides === 'decides') &&
    facts.data.length + content.people.length > 0 &&
    content.assessments.length === 0
  )
    found.push(need('link an impact assessment, Art. 35 GDPR'));
  if (high && content.tests.length === 0)
    found.push(need('test it, and say what came of it', { step: 'tests' }));
  const failed = content.tests.filter(
    (t) => !t.passed && !content.tests.some((o) => o.what === t.what && o.passed && o.on > t.on),
  );
  for (const t of failed) found.push(need(`it failed: ${t.what}`, { step: 'tests', wrong: running }));
  const left = gravest(content.risks.map((r) => weighRisk(r).planned));
  if (isHigh(left)) found.push(need(`a ${left} risk stays: lower it`, { step: 'risks', wrong: true }));
  for (const d of classed.duties)
    if (!record.duties[d.article]) {
      const words = `see to it, ${d.article}: ${d.words}`;
      found.push(
        d.from <= today
          ? need(words, { step: 'duty', wrong: running && high })
          : dueNeed(words, d.from, today, { step: 'duty' }),
      );
    }
  if (!record.approval) {
    // A duty that does not apply yet keeps nobody from it.
    const ready = found.every((n) => n.step === 'duty' && n.by !== undefined);
    if (running) found.unshift(need('it runs, and nobody approved it', { step: 'approve', wrong: true }));
    else if (ready) found.push(need('have it approved', { step: 'approve' }));
    return { ...at(found), ready };
  }
  if (record.approval.class !== classed.class)
    found.unshift(lookAgain(`it is ${AI_CLASSES[classed.class]} now`));
  else if (changes.length > 0) found.unshift(lookAgainAt(changes));
  if (content.review !== '' && content.review <= today)
    found.push(dueNeed('look at it again', content.review, today, { step: 'look again' }));
  return at(found);
}

/** Why it cannot go to a stage; `undefined` where it can. */
export function refusalOfStage(facts: AiFacts, to: AiStage): string | undefined {
  const { classed } = aiProgress(facts);
  if (to === 'used') {
    if (classed.class === 'prohibited') return 'It is prohibited by Art. 5.';
    if (classed.class === 'open') return 'Answer first what its class is.';
    if (!facts.record.approval) return 'Have it approved first.';
  }
  return undefined;
}
