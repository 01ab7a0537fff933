import { useState } from 'react';
import type * as answerApi from '../../../pages/api/access/reviews/[id]/answer.ts';
import type * as endApi from '../../../pages/api/access/reviews/[id]/end.ts';
import type * as linesApi from '../../../pages/api/access/reviews/[id]/lines.ts';
import { dayText } from '../../../core/text/day.ts';
import type { ReviewLine, ReviewView } from '../../../server/access/review/reviews.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useMay } from '../../desk/account-context.ts';
import { go, setQuery, useDeskLocation } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, numberWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DataTable, type Column } from '../../parts/DataTable.tsx';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { Segments } from '../../parts/Segments.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { changeLink, personLink, placeLink } from '../links.ts';
import { HandOnDialog } from './HandOnDialog.tsx';
import { useReview } from './use-reviews.ts';
import css from '../access.module.css';

const COLUMNS: readonly Column<ReviewLine>[] = [
  {
    key: 'place',
    title: 'Place',
    width: '170px',
    cell: (r) => (
      <span className={css['cut']} title={`${r.place.path} / ${r.place.name}`}>
        <a href={placeLink(r.place.key)}>{r.place.name}</a>
      </span>
    ),
  },
  {
    key: 'to',
    title: 'To whom',
    fills: true,
    cell: (r) => (
      <span className={css['cut']} title={r.to.name}>
        {r.to.key === null ? r.to.name : <a href={personLink(r.to.key)}>{r.to.name}</a>}
        {r.to.is === 'group' && ` (${numberWords(r.to.people)})`}
        {r.left > 0 && (
          <span className={css['mark']}> ◆ {r.to.is === 'person' ? 'left' : `${r.left} left`}</span>
        )}
      </span>
    ),
  },
  {
    key: 'what',
    title: 'What',
    width: '110px',
    cell: (r) =>
      `${r.is === 'link' ? 'link, ' : ''}${r.strength}${r.until === null ? '' : ` until ${dayText(r.until)}`}`,
  },
  {
    key: 'used',
    title: 'Last used',
    width: '130px',
    cell: (r) =>
      r.lastUse === null ? 'never' : `${dayText(r.lastUse)}${r.to.people > 1 ? `, by ${r.used}` : ''}`,
  },
  {
    key: 'peers',
    title: 'Colleagues',
    about: 'How many of the same unit reach it as well',
    width: '86px',
    align: 'right',
    optional: true,
    cell: (r) => (r.peers === null ? '' : `${r.peers.reach} of ${r.peers.of}`),
  },
  {
    key: 'sensitive',
    title: 'Sensitive',
    about: 'People in it with sensitive data',
    width: '76px',
    align: 'right',
    optional: true,
    cell: (r) => (r.sensitive === null ? '' : numberWords(r.sensitive)),
  },
  {
    key: 'answer',
    title: 'Answer',
    width: '150px',
    cell: (r) =>
      r.answer === null ? (
        <span className={css['dim']}>○ {r.owner.split('@')[0]}</span>
      ) : (
        <span title={`${r.saidBy ?? ''}${r.reason ? `: ${r.reason}` : ''}`}>
          {r.answer === 'keep' ? '✓ keep' : '− take away'}
          {!r.stands && ', gone by now'}
        </span>
      ),
  },
];

/** One review: how far it is, line by line what may stay, and what is to go. */
export function ReviewSheet({ id }: { readonly id: string }) {
  const review = useReview(id);
  const { query } = useDeskLocation();
  const mayReview = useMay('access.review');
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [handing, setHanding] = useState(false);
  if (review.isError && !review.data)
    return <Failure error={review.error} onRetry={() => void review.refetch()} />;
  if (!review.data) return <Loading what="the review" />;
  const r = review.data;
  const missing = r.lines - r.kept - r.taken;
  const isOpen = r.state === 'open';
  const answer = query.get('answer') ?? (isOpen && missing > 0 ? 'open' : '');
  // A line that somebody answers meanwhile is another, and chosen no more.
  const chosen = [...selected].map((key) => {
    const [n = '', seen = ''] = key.split(' ');
    return { n: Number(n), seen: seen === 'keep' || seen === 'take' ? seen : null };
  });
  const say = async (what: 'keep' | 'take' | null) => {
    try {
      const { passed } = await request<AnswerOf<typeof answerApi.POST>>(
        'POST',
        `/api/access/reviews/${id}/answer`,
        { lines: chosen, answer: what },
      );
      if (passed > 0)
        tell(
          `Somebody else answered ${passed === 1 ? 'one of them' : `${passed} of them`} meanwhile; that stands.`,
          { kind: 'trouble' },
        );
      setSelected(new Set());
    } catch (error) {
      tellFailure(error);
    }
  };
  return (
    <>
      <SheetHead
        title={titleOf(r, missing)}
        detail={detailOf(r)}
        actions={<ReviewActs review={r} missing={missing} />}
      />
      <FigureRow>
        <Figure value={numberWords(missing)} words="not answered" mark={missing > 0 && isOver(r)} />
        <Figure value={numberWords(r.kept)} words="may stay" />
        <Figure value={numberWords(r.taken)} words="are to go" />
      </FigureRow>
      {r.asked.length > 0 && (
        <FigureTable
          columns={['Who is asked', { figure: 'Lines' }, { figure: 'Open' }, 'Written to']}
          rows={r.asked.map((o) => ({
            key: o.address,
            cells: [
              o.name ?? o.address,
              numberWords(o.lines),
              numberWords(o.open),
              o.remindedAt === null ? (o.name === null ? 'answers here' : 'soon') : whenWords(o.remindedAt),
            ],
          }))}
        />
      )}
      <DataTable
        label="Lines of the review"
        name="access-review-lines"
        columns={COLUMNS}
        queryKey={['access-review', id, 'lines', answer]}
        load={(after) =>
          request<AnswerOf<typeof linesApi.GET>>(
            'GET',
            `/api/access/reviews/${id}/lines${queryString({ answer: answer === 'all' || answer === '' ? undefined : answer, after })}`,
          )
        }
        rowKey={(l) => `${l.n} ${l.answer ?? ''}`}
        rowName={(l) => `${l.to.name}, ${l.strength}, at ${l.place.name}`}
        selected={selected}
        onSelect={mayReview && isOpen ? setSelected : undefined}
        filters={
          <Segments
            label="Answer"
            value={answer === '' ? 'all' : answer}
            options={[
              { value: 'all', words: 'All', count: r.lines },
              { value: 'open', words: 'Not answered', count: missing },
              { value: 'keep', words: 'Keep', count: r.kept },
              { value: 'take', words: 'Take away', count: r.taken },
            ]}
            onChange={(a) => setQuery({ answer: a })}
          />
        }
        bulk={
          <>
            <Button onClick={() => void say('keep')}>Keep them</Button>
            <Button onClick={() => void say('take')}>Take them away</Button>
            <Button kind="quiet" onClick={() => void say(null)}>
              No answer yet
            </Button>
            <Button kind="quiet" onClick={() => setHanding(true)}>
              Ask somebody else …
            </Button>
          </>
        }
        empty={<Empty title={answer === 'open' ? '✓ All is answered' : 'None of these'} />}
      />
      {handing && (
        <HandOnDialog
          review={id}
          lines={chosen.map((c) => c.n)}
          onClose={() => setHanding(false)}
          onDone={() => setSelected(new Set())}
        />
      )}
    </>
  );
}

function isOver(r: ReviewView): boolean {
  return r.due < new Date().toISOString().slice(0, 10);
}

function titleOf(r: ReviewView, missing: number): string {
  if (r.state !== 'open') return `✓ ${r.name}: ended`;
  return missing === 0
    ? `✓ ${r.name}: all is answered`
    : `${r.name}: ${countWords(missing, 'line waits', 'lines wait')} for an answer`;
}

function detailOf(r: ReviewView) {
  return (
    <>
      {countWords(r.lines, 'line')} of {countWords(r.owners, 'owner')} · until {dayText(r.due)} · begun by{' '}
      {r.madeBy ?? 'nobody'}, {whenWords(r.madeAt)}
      {r.endedAt && `, ended ${whenWords(r.endedAt)}`}
      {r.change !== null && (
        <>
          {' '}
          · <a href={changeLink(r.change)}>what it takes away</a>
        </>
      )}
    </>
  );
}

function ReviewActs({ review: r, missing }: { readonly review: ReviewView; readonly missing: number }) {
  const mayReview = useMay('access.review');
  const end = async () => {
    try {
      const { change } = await request<AnswerOf<typeof endApi.POST>>(
        'POST',
        `/api/access/reviews/${r.id}/end`,
        {},
      );
      if (change === null) tell('It is ended. Nothing is to go.');
      else {
        tell('It is ended. This is what it takes away: look at what follows, then do it.');
        go(changeLink(change));
      }
    } catch (error) {
      tellFailure(error);
    }
  };
  return (
    <>
      <a href={`/api/access/reviews/${r.id}/evidence.csv`} download>
        Evidence (CSV)
      </a>
      {mayReview && r.state === 'open' && (
        <Button kind={missing === 0 ? 'primary' : 'plain'} onClick={() => void end()}>
          {missing === 0 ? 'End it' : `End it: ${numberWords(missing)} stay unanswered`}
        </Button>
      )}
    </>
  );
}
