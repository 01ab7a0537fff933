import { AI_CLASSES, AI_ROLES, classify } from '../../../core/cases/ai/ai-act.ts';
import { aiMarks, aiProgress, refusalOfStage } from '../../../core/cases/ai/ai-progress.ts';
import {
  AI_STAGES,
  AI_STAGE_WORDS,
  AiRecord,
  NO_AI_RECORD,
  stageOf,
  type AiAct,
} from '../../../core/cases/ai/ai-record.ts';
import { impactNumber } from '../../../core/cases/impact/impact.ts';
import { AI_WORDS, AiContent, aiNumber, DECIDES } from '../../../core/cases/ai/ai-system.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import { dayText } from '../../../core/text/day.ts';
import type { Account } from '../../../core/accounts/authority.ts';
import { authorize } from '../../../core/accounts/authority.ts';
import type { Context } from '../../context.ts';
import { addLookout, firstLookout } from '../../protection/offers.ts';
import type { Queries } from '../../store/pool.ts';
import type { DossierKind, Done, Known } from '../dossiers/dossier-kind.ts';
import { refuseFuture, refuseNow, refuseUnlessMay } from '../dossiers/may-act.ts';

export type KnownAi = Known<AiContent, AiRecord>;

export const AI_SYSTEM: DossierKind<AiContent, AiRecord, AiAct> = {
  ...{ object: 'AI system', table: 'ai_system', content: AiContent, record: AiRecord, none: NO_AI_RECORD },
  ...{ words: AI_WORDS, number: aiNumber, place: '/cases/ai' },
  links: ({ links }) => links,
  progress: (known) => {
    const { state, needs } = aiProgress(known);
    return { needs, state: AI_STAGE_WORDS[state] };
  },
  cells: (known) => {
    const { content, record } = known;
    const { classed } = aiProgress(known);
    const seen = classed.duties.filter((d) => record.duties[d.article]).length;
    return {
      ...{ purpose: content.purpose, provider: content.provider, role: AI_ROLES[content.role] },
      ...{ class: AI_CLASSES[classed.class], 'class because of': classed.because.join('; ') },
      'open questions': String(classed.open.length),
      duties: `${seen} of ${classed.duties.length} seen to`,
      ...{
        affects: content.people.join('; '),
        decides: DECIDES[content.decides],
        oversight: content.oversight,
      },
      'impact assessments': content.assessments.map(impactNumber).join('; '),
      tests: `${content.tests.filter((t) => t.passed).length} of ${content.tests.length} passed`,
      since: record.life.at(-1)?.on ?? '',
      ...{ approved: record.approval?.at.slice(0, 10) ?? '', 'next review': content.review },
    };
  },
  act: async (tx, ctx, known, act, by) => {
    refuseUnlessMay(by, act.act);
    if (act.act === 'watch') return watch(tx, ctx, known, by);
    return doAct(known, act, { by: by.id, at: ctx.now().toISOString() });
  },
};

/** Begins a lookout on what people give to AI assistants, as a draft that names this one. */
async function watch(
  tx: Queries,
  ctx: Context,
  { content, record, id }: KnownAi,
  by: Account,
): Promise<Done<AiRecord>> {
  const verdict = authorize(by, 'protection.watch', { kind: 'lookout', id: null });
  if (!verdict.allowed) throw new RefusedError(verdict.why, [], 403);
  const name = `Data given to ${content.name}`.slice(0, 110);
  const lookout = await addLookout(tx, ctx.now(), by.id, {
    ...firstLookout(name, {
      channels: ['AI assistant', 'web form'],
      lens: { fact: 'people', is: 'at least', number: 1 },
    }),
    because: `${aiNumber(id)} is ${AI_STAGE_WORDS[stageOf(record)]}`,
  });
  return { record, step: 'watch', words: name, detail: { lookout } };
}

function doAct(
  known: KnownAi,
  act: Exclude<AiAct, { act: 'watch' }>,
  said: { readonly by: number; readonly at: string },
): Done<AiRecord> {
  const { record, content, facts, today } = known;
  const changed = (
    change: Partial<AiRecord>,
    words: string,
    detail: Done<AiRecord>['detail'] = {},
  ): Done<AiRecord> => ({
    ...{ record: { ...record, ...change }, step: act.act, words, detail },
  });
  switch (act.act) {
    case 'stage': {
      const from = stageOf(record);
      const ways: readonly string[] = AI_STAGES[from];
      if (!ways.includes(act.to))
        throw new RefusedError(
          `From ${AI_STAGE_WORDS[from]} it cannot go to ${AI_STAGE_WORDS[act.to]}.`,
          [{ field: 'to', message: ways.length > 0 ? `It can go to: ${ways.join(', ')}.` : 'It is over.' }],
          409,
        );
      refuseNow(refusalOfStage(known, act.to));
      refuseFuture('on', act.on, today);
      const last = record.life.at(-1)?.on ?? '';
      if (act.on < last)
        throw new RefusedError('That is before the stage it is at.', [
          { field: 'on', message: `At the earliest ${last}.` },
        ]);
      return changed(
        { life: [...record.life, { ...said, words: act.words, stage: act.to, on: act.on }] },
        `${AI_STAGE_WORDS[act.to]} from ${dayText(act.on)}${act.words ? `: ${act.words}` : ''}`,
        {
          to: act.to,
          on: act.on,
        },
      );
    }
    case 'duty': {
      const duty = classify(content.answers, content.role).duties.find((d) => d.article === act.article);
      if (!duty) throw notFound('duty');
      return changed(
        { duties: { ...record.duties, [act.article]: { ...said, words: act.words } } },
        `${duty.article}: ${act.words}`,
        {
          article: act.article,
        },
      );
    }
    case 'approve': {
      const { needs, classed, ready } = aiProgress(known);
      const [first] = needs.filter((n) => n.step !== 'approve');
      refuseNow(
        record.approval ? 'It is approved.' : ready ? undefined : `It is not done: ${first?.words ?? ''}.`,
      );
      return changed(
        {
          approval: { ...said, words: act.words, class: classed.class, marks: [...aiMarks(content, facts)] },
        },
        act.words || classed.class,
        {
          class: classed.class,
        },
      );
    }
    case 'look again':
      refuseNow(record.approval ? undefined : 'It is not approved yet.');
      return changed({ approval: null }, act.words);
    case 'note':
      return changed({}, act.words);
  }
}
