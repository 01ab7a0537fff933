import { useRef, useState } from 'react';
import { coveredPieces } from '../../../core/cases/requests/covers/covered-text.ts';
import { GROUND_WORDS, GROUNDS, type Ground } from '../../../core/cases/requests/covers/cover.ts';
import type { Reading } from '../../../core/cases/requests/covers/reading.ts';
import { shownTable } from '../../../core/cases/requests/covers/shown.ts';
import type { RequestKind } from '../../../core/cases/requests/request.ts';
import type { ItemAct } from '../../../core/cases/requests/request-act.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery } from '../../desk/location.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords } from '../../desk/words.ts';
import { itemLink } from '../../holdings/offers.ts';
import { Button } from '../../parts/Button.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { useActs, useRequestItem, type ViewedRequest } from './use-requests.ts';
import css from '../cases.module.css';

/** One item as it is beside how the person gets it: what is theirs, what is covered and why, and what is in doubt. */
export function ItemLook({
  id,
  item,
  kind,
  open,
  items,
}: {
  readonly id: string;
  readonly item: string;
  readonly kind: RequestKind;
  /** Whether something can still be decided. */
  readonly open: boolean;
  readonly items: ViewedRequest['items'];
}) {
  const query = useRequestItem(id, item);
  const { actOnItem } = useActs(id);
  const mayHandle = useMay('cases.task') && open;
  const [leaving, setLeaving] = useState<'leave out' | 'keep'>();
  const text = useRef<HTMLDivElement>(null);
  if (query.isError && !query.data)
    return <Failure error={query.error} onRetry={() => void query.refetch()} />;
  if (!query.data) return <Loading what="the item" />;
  const i = query.data;
  const todo = items.filter((x) => x.theirs === 'yes' && x.state === 'to look over');
  const next = todo.find((x) => x.id !== i.id);
  const deletes = kind === 'delete' || kind === 'correct';
  const put = (does: ItemAct, said?: string) => {
    void actOnItem(item, does)
      .then(() => said && tell(said))
      .catch(tellFailure);
  };
  const right = () =>
    void actOnItem(item, { act: 'right' })
      .then(() => setQuery({ item: next?.id ?? null }))
      .catch(tellFailure);
  const coverSelection = () => {
    const range = selectedIn(text.current);
    if (range) put({ act: 'cover', ...range, ground: 'another person' }, 'It is covered.');
    else tell('Choose some of the text on the left first.');
  };
  return (
    <section aria-label={i.title || i.name}>
      <h2 className={css['heading']}>
        {i.title || i.name} ·{' '}
        {i.people > 0
          ? `${countWords(i.people, 'other')} covered as proposed`
          : i.rowsLeft > 0
            ? `${countWords(i.rowsLeft, 'row')} of others left out`
            : 'nobody else in it'}
      </h2>
      {i.problem && <p className={css['mark']}>◆ It could not be read: {i.problem}.</p>}
      {i.reading && (
        <div className={css['sides']}>
          <div className={css['side']}>
            <h3>
              As it is, {i.source ?? 'Websites'}{' '}
              {i.itemId && <a href={itemLink(i.itemId, 'everything')}>open</a>}
            </h3>
            <div ref={text} className={css['text']}>
              <Original
                reading={i.reading}
                onUncover={
                  mayHandle ? (start, end) => put({ act: 'uncover', start, end }, 'It is shown.') : undefined
                }
              />
            </div>
          </div>
          <div className={css['side']}>
            <h3>{deletes ? 'What is theirs in it' : 'As they will get it'}</h3>
            <div className={css['text']}>
              <Covered reading={i.reading} />
            </div>
          </div>
        </div>
      )}
      {i.reading && i.reading.doubts.length > 0 && (
        <p className={css['note']}>
          ○ {countWords(i.reading.doubts.length, 'stretch', 'stretches')} in doubt, dotted on the left:{' '}
          {i.reading.doubts[0]?.why}
        </p>
      )}
      {i.state === 'left out' && i.ground && i.ground !== 'kept' && (
        <p className={css['note']}>
          Left out: {GROUND_WORDS[i.ground]}. “{i.reason}”
        </p>
      )}
      {mayHandle && (
        <div className={css['acts']}>
          {i.theirs === 'ask' && i.state !== 'unreadable' && (
            <>
              <Button kind="primary" onClick={() => put({ act: 'theirs', theirs: true }, 'It is theirs.')}>
                It is theirs
              </Button>
              <Button onClick={() => put({ act: 'theirs', theirs: false }, 'It is another’s.')}>
                It is another’s
              </Button>
            </>
          )}
          {i.theirs === 'yes' && i.state === 'to look over' && !deletes && (
            <Button kind="primary" onClick={right}>
              {next ? 'Right, next' : 'Right'}
            </Button>
          )}
          {i.reading && !deletes && <Button onClick={coverSelection}>Cover what I chose</Button>}
          {i.state !== 'left out' && !deletes && (
            <Button onClick={() => setLeaving('leave out')}>Leave it out</Button>
          )}
          {i.state === 'left out' && (
            <Button onClick={() => put({ act: 'take in' }, 'It is taken in.')}>Take it in</Button>
          )}
          {kind === 'delete' && i.fate !== 'kept' && i.changeState !== 'done' && (
            <Button onClick={() => setLeaving('keep')}>Keep it</Button>
          )}
        </div>
      )}
      {leaving && (
        <LeaveOut
          does={leaving}
          send={(does) => actOnItem(item, does)}
          onClose={() => setLeaving(undefined)}
        />
      )}
    </section>
  );
}

/** What somebody chose of the text: offsets in it. */
function selectedIn(
  within: HTMLElement | null,
): { readonly start: number; readonly end: number } | undefined {
  const selection = window.getSelection();
  if (!within || !selection || selection.isCollapsed || selection.rangeCount === 0) return undefined;
  const range = selection.getRangeAt(0);
  const offsetOf = (node: Node, at: number): number | undefined => {
    const holder = (node instanceof Element ? node : node.parentElement)?.closest<HTMLElement>('[data-at]');
    return holder && within.contains(holder) ? Number(holder.dataset['at']) + at : undefined;
  };
  const start = offsetOf(range.startContainer, range.startOffset);
  const end = offsetOf(range.endContainer, range.endOffset);
  return start !== undefined && end !== undefined && start < end ? { start, end } : undefined;
}

interface Piece {
  readonly start: number;
  readonly end: number;
  readonly is: 'text' | 'own' | 'cover' | 'doubt';
  readonly title: string;
}

/** The text in stretches of one kind; a cover counts before a doubt, and that before what is theirs. */
function piecesOf({ text, own, covers, doubts }: Reading): readonly Piece[] {
  const marks: Piece[] = [
    ...covers.map((c) => ({
      start: c.start,
      end: c.end,
      is: 'cover' as const,
      title: GROUND_WORDS[c.ground],
    })),
    ...doubts.map((d) => ({ start: d.start, end: d.end, is: 'doubt' as const, title: d.why })),
    ...own.map((o) => ({ ...o, is: 'own' as const, title: 'theirs' })),
  ].toSorted((a, b) => a.start - b.start || b.end - a.end);
  const pieces: Piece[] = [];
  let at = 0;
  for (const m of marks) {
    if (m.end <= at) continue;
    const start = Math.max(at, m.start);
    if (start > at) pieces.push({ start: at, end: start, is: 'text', title: '' });
    pieces.push({ ...m, start });
    at = m.end;
  }
  if (at < text.length) pieces.push({ start: at, end: text.length, is: 'text', title: '' });
  return pieces;
}

function Original({
  reading,
  onUncover,
}: {
  readonly reading: Reading;
  readonly onUncover: ((start: number, end: number) => void) | undefined;
}) {
  return piecesOf(reading).map((p) => {
    const words = reading.text.slice(p.start, p.end);
    const at = { 'data-at': p.start };
    switch (p.is) {
      case 'text':
        return (
          <span key={p.start} {...at}>
            {words}
          </span>
        );
      case 'cover':
        return onUncover ? (
          <button
            key={p.start}
            type="button"
            className={css['covered']}
            {...at}
            title={`Covered: ${p.title}. Press to show it.`}
            onClick={() => onUncover(p.start, p.end)}
          >
            {words}
          </button>
        ) : (
          <span key={p.start} className={css['covered']} {...at} title={p.title}>
            {words}
          </span>
        );
      default:
        return (
          <mark key={p.start} className={p.is === 'own' ? css['own'] : css['doubt']} {...at} title={p.title}>
            {words}
          </mark>
        );
    }
  });
}

function Covered({ reading }: { readonly reading: Reading }) {
  const table = shownTable(reading);
  if (table.columns.length > 0)
    return (
      <dl className={css['facts']}>
        {table.rows.slice(0, 40).flatMap((r, n) =>
          r.flatMap((cell, c) =>
            cell === ''
              ? []
              : [
                  <div key={`${n} ${c}`}>
                    <dt>{table.columns[c]}</dt>
                    <dd>{cell}</dd>
                  </div>,
                ],
          ),
        )}
      </dl>
    );
  return coveredPieces(reading.text, reading.covers).map((p, i) =>
    'cover' in p ? (
      <span key={i} className={css['block']} role="img" aria-label="covered">
        {p.text}
      </span>
    ) : (
      <span key={i}>{p.text}</span>
    ),
  );
}

/** Asks for the ground on which something is not handed over, or kept. */
function LeaveOut({
  does,
  send: put,
  onClose,
}: {
  readonly does: 'leave out' | 'keep';
  readonly send: (act: ItemAct) => Promise<unknown>;
  readonly onClose: () => void;
}) {
  const [ground, setGround] = useState<Ground>('not theirs');
  const [reason, setReason] = useState('');
  const { busy, refused, error, send } = useSending();
  return (
    <DialogForm
      title={does === 'keep' ? 'Keep it' : 'Leave it out'}
      onClose={onClose}
      onSubmit={() =>
        send(async () => {
          await put(does === 'keep' ? { act: 'keep', reason } : { act: 'leave out', ground, reason });
          onClose();
        })
      }
      act={does === 'keep' ? 'Keep it' : 'Leave it out'}
      busy={busy}
      refused={error('does.reason') ? undefined : refused?.message}
    >
      {does === 'leave out' && (
        <Field label="Ground">
          <select value={ground} onChange={(e) => setGround(e.target.value as Ground)}>
            {GROUNDS.map((g) => (
              <option key={g} value={g}>
                {GROUND_WORDS[g]}
              </option>
            ))}
          </select>
        </Field>
      )}
      <Field
        label="Why"
        error={error('does.reason')}
        hint={
          does === 'keep'
            ? 'Art. 17(3): such as for the defence of a claim. The person is told.'
            : 'Stands on record; the person is told the ground.'
        }
      >
        <textarea
          autoFocus
          rows={3}
          maxLength={500}
          value={reason}
          onChange={(e) => setReason(e.target.value)}
        />
      </Field>
    </DialogForm>
  );
}
