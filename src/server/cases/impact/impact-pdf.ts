import type { Content } from 'pdfmake/interfaces.js';
import { CRITERIA } from '../../../core/cases/impact/criteria.ts';
import { impactNumber } from '../../../core/cases/impact/impact.ts';
import { impactProgress } from '../../../core/cases/impact/impact-progress.ts';
import { LIKELIHOOD, SEVERITY, weighRisk } from '../../../core/cases/impact/risk.ts';
import { dayText } from '../../../core/text/day.ts';
import { accountNames } from '../../accounts/account-names.ts';
import type { Context } from '../../context.ts';
import {
  DIM,
  heading,
  makeDocument,
  MARK,
  paragraph,
  printable,
  table,
  title,
} from '../../files/document.ts';
import { knowNow } from '../dossiers/dossiers.ts';
import { IMPACT, impactFacts } from './impact-kind.ts';

/** An assessment as Art. 35(7) asks for it. Throws a RefusedError (404). */
export async function impactPdf(ctx: Context, id: number): Promise<Buffer> {
  const known = await knowNow(ctx, IMPACT, id);
  const facts = impactFacts(known);
  const progress = impactProgress(facts);
  const { content: c, record, facts: linked, today } = known;
  const names = await accountNames(ctx.store);
  const who = (by: number) => names.get(by) ?? 'somebody who left';
  const on = (at: string) => dayText(at.slice(0, 10));
  const text = (words: string): Content =>
    words.trim() === ''
      ? paragraph('not written yet', 10, MARK)
      : { text: printable(words, 8000), fontSize: 10 };
  const holding = facts.threshold.clauses.filter((x) => x.holds);
  return makeDocument({
    title: `${impactNumber(id)}, ${c.name}`,
    foot: `Impact assessment ${impactNumber(id)}, ${dayText(today)}`,
    content: [
      title(c.name),
      paragraph(
        `Impact assessment ${impactNumber(id)} by Art. 35 of the GDPR, as of ${dayText(today)}: ${progress.state}. Owner: ${c.owner || 'nobody yet'}.`,
      ),
      paragraph(
        `The gravest risk is ${progress.before} without measures, ${progress.now} with what is done, and ${progress.planned} with all that is planned.`,
      ),
      heading('Whether it is needed'),
      paragraph(
        record.threshold
          ? `${record.threshold.needed ? 'Needed' : 'Not needed'}: ${record.threshold.why} (${who(record.threshold.by)}, ${on(record.threshold.at)})`
          : 'Not decided yet',
        10,
      ),
      ...(holding.length > 0
        ? [
            table(
              [150, 180, 160],
              ['Rule', 'What it asks', 'What holds'],
              holding.map((x) => [paragraph(x.law, 9), paragraph(x.words, 9), paragraph(x.because, 9, DIM)]),
            ),
          ]
        : [paragraph('No rule asks for it.', 9, DIM)]),
      table(
        [170, 40, 280],
        ['Criterion', 'Holds', 'Why'],
        facts.threshold.questions
          .filter((q) => q.id in CRITERIA)
          .map((q) => [
            paragraph(q.words, 9),
            paragraph(q.is ? 'yes' : 'no', 9),
            paragraph(`${q.because}${q.own ? '' : ' (proposed)'}`, 9, DIM),
          ]),
      ),
      heading('What is done, Art. 35(7)(a)'),
      text(c.about),
      paragraph(
        [
          linked.activities.length > 0
            ? `Activities: ${linked.activities.map((a) => a.name).join(', ')}`
            : '',
          linked.systems.length > 0 ? `Systems: ${linked.systems.map((s) => s.name).join(', ')}` : '',
          linked.sites.length > 0 ? `Sites: ${linked.sites.map((s) => s.name).join(', ')}` : '',
          linked.data.length > 0 ? `Kinds of data: ${linked.data.map((d) => d.name).join(', ')}` : '',
          linked.people.length > 0
            ? `People: ${linked.people.join(', ')}${linked.count === null ? '' : `, ${linked.count.toLocaleString('en-GB')} found`}`
            : '',
          linked.recipients.length > 0
            ? `Recipients: ${linked.recipients.map((r) => r.name).join(', ')}`
            : '',
        ]
          .filter(Boolean)
          .join('. '),
        9,
        DIM,
      ),
      heading('Why it is needed, and not more, Art. 35(7)(b)'),
      text(c.necessity),
      heading('Risks to people, Art. 35(7)(c), and measures, (d)'),
      ...(c.risks.length === 0
        ? [paragraph('No risk is named yet.', 10, MARK)]
        : [
            table(
              [150, 110, 120, 110],
              ['Risk', 'Without measures', 'Measures', 'What remains'],
              c.risks.map(weighRisk).map((w) => [
                { stack: [paragraph(w.risk.what, 9), paragraph(w.risk.harm, 8, DIM)] },
                paragraph(
                  `${w.before}: likelihood ${LIKELIHOOD[w.risk.likelihood - 1] ?? ''}, severity ${SEVERITY[w.risk.severity - 1] ?? ''}`,
                  9,
                ),
                {
                  stack: w.risk.measures.map((m) =>
                    paragraph(
                      `${m.done ? '+' : 'o'} ${m.what}${m.due && !m.done ? `, due ${dayText(m.due)}` : ''}`,
                      9,
                    ),
                  ),
                },
                paragraph(
                  `${w.planned}: likelihood ${LIKELIHOOD[w.left.likelihood - 1] ?? ''}, severity ${SEVERITY[w.left.severity - 1] ?? ''}`,
                  9,
                ),
              ]),
            ),
          ]),
      heading('What the people say, Art. 35(9)'),
      text(c.views),
      heading('Advice of the data protection officer, Art. 35(2)'),
      record.advice
        ? paragraph(
            `${record.advice.proceed ? 'Go on' : 'Do not go on'}: ${record.advice.words} (${who(record.advice.by)}, ${on(record.advice.at)})`,
          )
        : paragraph('Not given yet', 10, MARK),
      ...(record.consultation
        ? [
            heading('The authority, Art. 36'),
            paragraph(
              `Asked on ${dayText(record.consultation.sentOn)}; ${record.consultation.answeredOn ? `answered on ${dayText(record.consultation.answeredOn)}: ${record.consultation.answer}` : 'not answered yet'}`,
            ),
          ]
        : []),
      heading('Approval'),
      record.approval
        ? paragraph(
            `Approved by ${who(record.approval.by)} on ${on(record.approval.at)}, version ${record.approval.revision}. ${record.approval.words}`,
          )
        : paragraph('Not approved', 10, MARK),
      ...(c.review ? [paragraph(`Looked at again on ${dayText(c.review)}.`, 9, DIM)] : []),
    ],
  });
}
