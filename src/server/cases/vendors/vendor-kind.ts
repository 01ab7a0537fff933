import { randomUUID } from 'node:crypto';
import { questionsFor } from '../../../core/cases/vendors/questionnaire.ts';
import {
  domainsOf,
  VENDOR_ACCESS,
  VENDOR_ROLES,
  VENDOR_WORDS,
  VendorContent,
  vendorNumber,
} from '../../../core/cases/vendors/vendor.ts';
import {
  EVENT_KINDS,
  EXIT_CHECKS,
  NO_VENDOR_RECORD,
  VendorRecord,
  type VendorAct,
} from '../../../core/cases/vendors/vendor-act.ts';
import { clausesFor, vendorMarks, vendorProgress } from '../../../core/cases/vendors/vendor-progress.ts';
import { reachWords, vendorTier } from '../../../core/cases/vendors/vendor-tier.ts';
import { lastDayOf } from '../../../core/retention/offers.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import { dayText } from '../../../core/text/day.ts';
import type { Context } from '../../context.ts';
import { queueMail } from '../../outbox/outbox.ts';
import type { Queries } from '../../store/pool.ts';
import type { DossierKind, Done, Known } from '../dossiers/dossier-kind.ts';
import { refuseNow, refuseUnlessMay } from '../dossiers/may-act.ts';
import { readRequestPolicy } from '../requests/request-policy.ts';
import { readQuestionnaire } from './questionnaires.ts';
import { endVendorLinks, makeVendorLink } from './vendor-link.ts';
import { VENDOR_ASKED } from './vendor-letter.ts';

export type KnownVendor = Known<VendorContent, VendorRecord>;

/** Days that a vendor has to answer. */
const ANSWER_DAYS = 21;

export const VENDOR: DossierKind<VendorContent, VendorRecord, VendorAct> = {
  ...{
    object: 'vendor',
    table: 'vendor',
    content: VendorContent,
    record: VendorRecord,
    none: NO_VENDOR_RECORD,
  },
  ...{ words: VENDOR_WORDS, number: vendorNumber, place: '/cases/vendors' },
  links: (content) => ({ ...content.links, hosts: content.hosts, domains: domainsOf(content) }),
  progress: vendorProgress,
  cells: (known) => {
    const { content, record, facts } = known;
    const { tier, score, reviewOn } = vendorProgress(known);
    return {
      ...{
        service: content.service,
        role: VENDOR_ROLES[content.role],
        access: VENDOR_ACCESS[content.access],
      },
      reaches: facts.reach ? reachWords(facts.reach) : '',
      ...{ tier: String(tier.tier), 'tier because of': tier.steps.map((s) => s.words).join('; ') },
      data: facts.data.map((d) => d.name).join('; '),
      ...{ country: content.country, safeguard: content.country === '' ? '' : content.safeguard },
      subprocessors: content.subprocessors
        .map((s) => (s.country ? `${s.name} (${s.country})` : s.name))
        .join('; '),
      answered: record.asked?.sentAt?.slice(0, 10) ?? '',
      score: score?.score == null ? '' : score.score.toFixed(2),
      gaps: score && record.asked?.sentAt ? String(score.gaps.length) : '',
      ...{ 'contract signed': content.contract.signed, 'contract ends': content.contract.ends },
      certificates: content.certificates.map((c) => `${c.name} until ${c.ends}`).join('; '),
      ...{ approved: record.approval?.on ?? '', 'next review': reviewOn ?? '' },
    };
  },
  act: async (tx, ctx, known, act, by) => {
    refuseUnlessMay(by, act.act);
    const at = ctx.now().toISOString();
    if (act.act === 'ask') return ask(tx, ctx, known, act.questionnaire);
    const done = doAct(known, act, { by: by.id, at });
    if (act.act === 'leave') await endVendorLinks(tx, known.id);
    return done;
  },
};

/** Sends the questions of its tier to the contact, with a link of their own; what was answered before stays, to be looked over. */
async function ask(
  tx: Queries,
  ctx: Context,
  known: KnownVendor,
  questionnaire: number,
): Promise<Done<VendorRecord>> {
  const { content, record, facts, today, id } = known;
  if (content.contact === '')
    throw new RefusedError(
      'Say first whom to ask.',
      [{ field: 'contact', message: 'An address such as privacy@vendor.example.' }],
      409,
    );
  const asks = await readQuestionnaire(tx, questionnaire);
  const { tier } = vendorTier(content, facts);
  const questions = [...questionsFor(asks, tier)];
  if (questions.length === 0)
    throw new RefusedError('This questionnaire asks nothing of its tier.', [
      { field: 'questionnaire', message: 'Choose another.' },
    ]);
  const until = lastDayOf(today, { count: ANSWER_DAYS, unit: 'days' });
  const token = await makeVendorLink(tx, id, new Date(`${until}T23:59:59Z`));
  const policy = await readRequestPolicy(tx);
  await queueMail(tx, ctx, {
    ...{
      key: `vendor ${id} ${randomUUID()}`,
      about: { object: 'vendor', id },
      to: content.contact,
      template: VENDOR_ASKED,
    },
    values: {
      ...{
        organisation: policy.organisation,
        vendor: content.name,
        count: questions.length,
        day: dayText(until),
      },
      link: `${ctx.settings.WEB_ORIGIN}/vendor/${token}`,
    },
  });
  const asked = {
    to: content.contact,
    at: ctx.now().toISOString(),
    until,
    name: asks.name,
    tier,
    questions,
    sentAt: null,
  };
  return {
    ...{
      record: { ...record, asked, accepted: {} },
      step: 'ask',
      words: `${questions.length} questions, until ${dayText(until)}`,
    },
    detail: { questions: questions.length, until },
  };
}

function doAct(
  known: KnownVendor,
  act: Exclude<VendorAct, { act: 'ask' }>,
  said: { readonly by: number; readonly at: string },
): Done<VendorRecord> {
  const { record, content, facts, today } = known;
  const changed = (
    change: Partial<VendorRecord>,
    words: string,
    detail: Done<VendorRecord>['detail'] = {},
  ): Done<VendorRecord> => ({
    ...{ record: { ...record, ...change }, step: act.act, words, detail },
  });
  const { state } = vendorProgress(known);
  if (state === 'left' && act.act !== 'note' && act.act !== 'stay')
    throw new RefusedError('It is left.', [], 409);
  switch (act.act) {
    case 'accept': {
      const question = record.asked?.questions.find((q) => q.id === act.question);
      if (!question) throw notFound('question');
      return changed(
        { accepted: { ...record.accepted, [act.question]: { ...said, words: act.words } } },
        `${question.words} ${act.words}`,
        {
          question: act.question,
        },
      );
    }
    case 'clause': {
      const clause = clausesFor(content).find((c) => c.id === act.clause);
      if (!clause) throw notFound('clause');
      return changed(
        { clauses: { ...record.clauses, [act.clause]: { ...said, there: act.there, words: act.words } } },
        `${clause.article}: ${act.there ? 'there' : 'missing'}${act.words ? `, ${act.words}` : ''}`,
        { clause: act.clause, there: act.there },
      );
    }
    case 'event': {
      const id = Math.max(0, ...record.events.map((e) => e.id)) + 1;
      const event = { id, at: said.at, kind: act.kind, words: act.words, seen: null };
      return changed({ events: [...record.events, event] }, `${EVENT_KINDS[act.kind]}: ${act.words}`, {
        kind: act.kind,
      });
    }
    case 'seen': {
      const event = record.events.find((e) => e.id === act.event && !e.seen);
      if (!event) throw notFound('event');
      const events = record.events.map((e) =>
        e === event ? { ...e, seen: { ...said, words: act.words } } : e,
      );
      return changed({ events }, `${event.words}: ${act.words}`);
    }
    case 'approve': {
      const { needs, tier } = vendorProgress(known);
      const [first] = needs;
      refuseNow(
        state === 'approved'
          ? 'It is approved.'
          : first?.step === 'approve'
            ? undefined
            : `It is not done: ${first?.words ?? ''}.`,
      );
      const approval = {
        ...said,
        words: act.words,
        marks: [...vendorMarks(content, facts)],
        tier: tier.tier,
        on: today,
      };
      return changed({ approval }, act.words, { tier: tier.tier, score: tier.score });
    }
    case 'look again':
      refuseNow(record.approval ? undefined : 'It is not approved yet.');
      return changed({ approval: null }, act.words);
    case 'leave':
      refuseNow(record.exit ? 'It is being left.' : undefined);
      return changed({ exit: { begun: { ...said, words: act.words }, checks: {} } }, act.words);
    case 'stay':
      refuseNow(record.exit ? undefined : 'It is not being left.');
      return changed({ exit: null, approval: null }, act.words);
    case 'left': {
      if (!record.exit) throw new RefusedError('It is not being left.', [], 409);
      const exit = {
        ...record.exit,
        checks: { ...record.exit.checks, [act.check]: { ...said, words: act.words } },
      };
      return changed({ exit }, `${EXIT_CHECKS[act.check]}: ${act.words}`, {
        check: act.check,
      });
    }
    case 'note':
      return changed({}, act.words);
  }
}
