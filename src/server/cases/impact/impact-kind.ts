import { proposeAnswers } from '../../../core/cases/impact/criteria.ts';
import { IMPACT_WORDS, ImpactContent, impactNumber } from '../../../core/cases/impact/impact.ts';
import { ImpactRecord, NO_IMPACT_RECORD, type ImpactAct } from '../../../core/cases/impact/impact-act.ts';
import {
  impactProgress,
  refusalToApprove,
  type ImpactFacts,
} from '../../../core/cases/impact/impact-progress.ts';
import { threshold } from '../../../core/cases/impact/threshold.ts';
import { marksOf } from '../../../core/cases/linked/linked.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { DossierKind, Done, Known } from '../dossiers/dossier-kind.ts';
import { refuseFuture, refuseNow, refuseUnlessMay } from '../dossiers/may-act.ts';

export type KnownImpact = Known<ImpactContent, ImpactRecord>;

/** What an assessment is judged by, as it is known. */
export function impactFacts({ content, record, facts, today }: KnownImpact): ImpactFacts {
  const proposed = proposeAnswers(facts, `${content.name}\n${content.about}`);
  return {
    ...{ content, record, today, marks: marksOf(facts) },
    threshold: threshold(proposed, content.answers, content.countries),
  };
}

export const IMPACT: DossierKind<ImpactContent, ImpactRecord, ImpactAct> = {
  ...{
    object: 'impact assessment',
    table: 'impact_assessment',
    content: ImpactContent,
    record: ImpactRecord,
  },
  ...{ none: NO_IMPACT_RECORD, words: IMPACT_WORDS, number: impactNumber, place: '/cases/impact' },
  links: ({ links }, id) => ({ ...links, assessment: id }),
  progress: (known) => impactProgress(impactFacts(known)),
  cells: (known) => {
    const facts = impactFacts(known);
    const { before, now, planned } = impactProgress(facts);
    const { threshold: decided, advice, approval } = known.record;
    const { content } = known;
    return {
      ...{ countries: content.countries.join(' '), threshold: facts.threshold.words },
      decided: decided ? `${decided.needed ? 'needed' : 'not needed'}, ${decided.at.slice(0, 10)}` : '',
      ...{ 'risk without measures': before, 'risk now': now, 'risk with all measures': planned },
      advice: advice ? (advice.proceed ? 'go on' : 'do not go on') : '',
      ...{ approved: approval?.at.slice(0, 10) ?? '', 'next review': content.review },
    };
  },
  act: (_tx, ctx, known, act, by) => {
    refuseUnlessMay(by, act.act);
    return Promise.resolve(
      act.act === 'note' ? note(known, act.words) : doAct(known, act, by.id, ctx.now().toISOString()),
    );
  },
};

const note = ({ record }: KnownImpact, words: string): Done<ImpactRecord> => ({
  record,
  step: 'note',
  words,
});

function doAct(
  known: KnownImpact,
  act: Exclude<ImpactAct, { act: 'note' }>,
  by: number,
  at: string,
): Done<ImpactRecord> {
  const { record, today } = known;
  const facts = impactFacts(known);
  if (record.ended && act.act !== 'open again') throw new RefusedError('It is ended.', [], 409);
  const changed = (
    change: Partial<ImpactRecord>,
    words: string,
    detail: Done<ImpactRecord>['detail'] = {},
  ): Done<ImpactRecord> => ({
    ...{ record: { ...record, ...change }, step: act.act, words, detail },
  });
  switch (act.act) {
    case 'decide': {
      const { verdict } = facts.threshold;
      // Against the rules, or where they leave it open, a reason is due (WP 248, III.B.a).
      if ((act.needed ? false : verdict !== 'not needed') && act.why.length < 10)
        throw new RefusedError('Say why no assessment is needed.', [
          {
            field: 'why',
            message: `It is ${facts.threshold.words}. A sentence that the authority may read.`,
          },
        ]);
      const why = act.why || facts.threshold.words;
      return changed(
        { threshold: { needed: act.needed, why, by, at } },
        `${act.needed ? 'needed' : 'not needed'}: ${why}`,
        {
          needed: act.needed,
          verdict,
        },
      );
    }
    case 'advise':
      if (!record.threshold?.needed) throw new RefusedError('Decide first that it is needed.', [], 409);
      return changed(
        { advice: { words: act.words, proceed: act.proceed, by, at } },
        `${act.proceed ? 'go on' : 'do not go on'}: ${act.words}`,
        {
          proceed: act.proceed,
        },
      );
    case 'consult':
      refuseFuture('on', act.on, today);
      return changed(
        { consultation: { sentOn: act.on, extended: false, answeredOn: null, answer: '' } },
        act.on,
        { on: act.on },
      );
    case 'longer':
      if (!record.consultation || record.consultation.answeredOn)
        throw new RefusedError('The authority is not at it.', [], 409);
      return changed(
        { consultation: { ...record.consultation, extended: true } },
        'the authority takes six weeks more',
      );
    case 'answered':
      if (!record.consultation) throw new RefusedError('The authority was not asked.', [], 409);
      refuseFuture('on', act.on, today);
      if (act.on < record.consultation.sentOn)
        throw new RefusedError('That is before it was asked.', [
          { field: 'on', message: `At the earliest ${record.consultation.sentOn}.` },
        ]);
      return changed(
        { consultation: { ...record.consultation, answeredOn: act.on, answer: act.words } },
        act.words,
        { on: act.on },
      );
    case 'approve': {
      refuseNow(refusalToApprove(facts, by));
      const { planned } = impactProgress(facts);
      const approval = { by, at, words: act.words, marks: [...facts.marks], revision: known.revision };
      return changed({ approval }, act.words || `what remains: ${planned}`, {
        remains: planned,
        revision: known.revision,
      });
    }
    case 'send back':
      return changed({ advice: null, approval: null }, act.words);
    case 'look again':
      if (!record.approval && record.threshold?.needed !== false)
        throw new RefusedError('It is not approved yet.', [], 409);
      return changed({ approval: null, advice: null, consultation: null, threshold: null }, act.words);
    case 'end':
      return changed({ ended: { why: act.words, by, at } }, act.words);
    case 'open again':
      refuseNow(record.ended ? undefined : 'It is open.');
      return changed({ ended: null }, act.words);
  }
}
