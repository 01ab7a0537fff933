import { useState } from 'react';
import { REVIEW_ANSWERS, type ReviewAnswer } from '../../../core/retention/review/review.ts';
import { dayText } from '../../../core/text/day.ts';
import type { Review } from '../../../server/retention/review/reviews.ts';
import { useMay } from '../../desk/account-context.ts';
import { readAgain } from '../../desk/changed.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { countWords, dateWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { ChoiceField } from '../../parts/ChoiceField.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { boundLink, retentionRuleLink } from '../links.ts';
import { useReviews } from '../use-retention.ts';
import css from '../retention.module.css';

/** Which rules and bounds wait for somebody to say whether they still stand, and what was said of the others. */
export function YearlyReview() {
  const reviews = useReviews();
  const mayEdit = useMay('retention.edit');
  const [answering, setAnswering] = useState<Review>();
  if (reviews.isError && !reviews.data)
    return <Failure error={reviews.error} onRetry={() => void reviews.refetch()} />;
  if (!reviews.data) return <Loading what="the reviews" />;
  const near = reviews.data.filter((r) => r.waits !== null);
  return (
    <section id="review" aria-label="Yearly review">
      <h2 className={css['heading']}>Yearly review</h2>
      <p className={css['note']}>
        {reviews.data.length === 0
          ? 'Nothing is in force that could be looked at again.'
          : near.length === 0
            ? `✓ Every rule was looked at within a year; the next is due on ${dayText(reviews.data[0]?.due ?? '')}`
            : `${countWords(near.length, 'rule or bound waits', 'rules and bounds wait')} for an answer, of ${reviews.data.length}`}
      </p>
      {near.length > 0 && <ReviewTable reviews={near} onAnswer={mayEdit ? setAnswering : undefined} />}
      {reviews.data.length > near.length && (
        <details>
          <summary>{near.length === 0 ? 'All of them' : 'The others'}, by when they are due</summary>
          <ReviewTable
            reviews={reviews.data.slice(near.length)}

            onAnswer={mayEdit ? setAnswering : undefined}
          />
        </details>
      )}
      {answering && <AnswerReview review={answering} onClose={() => setAnswering(undefined)} />}
    </section>
  );
}

function ReviewTable({
  reviews,
  onAnswer,
}: {
  readonly reviews: readonly Review[];
  readonly onAnswer: ((review: Review) => void) | undefined;
}) {
  return (
    <FigureTable
      columns={['Rule or bound', 'What was said last', { figure: 'Due' }, { unseen: 'Answer' }]}
      rows={reviews.map((r) => ({
        key: `${r.kind} ${r.id}`,
        cells: [
          <a href={r.kind === 'bound' ? boundLink(r.id) : retentionRuleLink(r.id)}>{r.name}</a>,
          <SaidLast last={r.last} />,
          r.waits === 'late' ? <b className={css['mark']}>◆ {dayText(r.due)}</b> : dayText(r.due),
          onAnswer && (
            <Button kind="quiet" aria-label={`Say whether ${r.name} stands`} onClick={() => onAnswer(r)}>
              Answer …
            </Button>
          ),
        ],
      }))}
    />
  );
}

function SaidLast({ last }: Pick<Review, 'last'>) {
  if (!last) return <span className={css['note']}>nothing yet</span>;
  return (
    <>
      {last.answer === 'stands' ? '✓ ' : '◆ '}
      {REVIEW_ANSWERS[last.answer]}, {last.name}, {dateWords(last.at)}
      {last.reason && <div className={css['note']}>{last.reason}</div>}
    </>
  );
}

function AnswerReview({ review, onClose }: { readonly review: Review; readonly onClose: () => void }) {
  const [answer, setAnswer] = useState<ReviewAnswer>('stands');
  const [reason, setReason] = useState('');
  const { busy, refused, error, send } = useSending();
  const say = async () => {
    const { kind, id, version } = review;
    await request('POST', '/api/retention/reviews', { kind, id, version, said: { answer, reason } });
    tell(`On record: ${REVIEW_ANSWERS[answer].toLowerCase()}.`);
    readAgain([{ object: kind, id }], true);
    onClose();
  };
  const wrong = error('said.reason', 'reason');
  return (
    <DialogForm
      title={`Does “${review.name}” still stand?`}
      onClose={onClose}
      onSubmit={() => send(say)}
      act="Put it on record"
      busy={busy}
      refused={wrong ? undefined : refused?.message}
    >
      <ChoiceField
        label="Answer"
        value={answer}
        options={Object.entries(REVIEW_ANSWERS).map(([value, words]) => ({ value, words }))}
        onChange={(v) => setAnswer(v as ReviewAnswer)}
      />
      <Field label={answer === 'stands' ? 'Why (may be left empty)' : 'Why'} error={wrong}>
        <input value={reason} maxLength={400} onChange={(e) => setReason(e.target.value)} />
      </Field>
      <p>
        Version {review.version} is meant. It stays in force whatever is said: change it or take it out of
        force on its own sheet.
      </p>
    </DialogForm>
  );
}
