import { useState } from 'react';
import { useQueryClient } from '@tanstack/react-query';
import { figureText, valueWords } from '../../../core/figures/told.ts';
import type { ShownBoard, ShownTile } from '../../../server/desk/shown-board.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, dateWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { CopyText } from '../../parts/CopyText.tsx';
import { DayChoice } from '../../parts/DayChoice.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { figureLink } from './BoardSheet.tsx';
import { useBoardLinks, useShownBoard } from './use-boards.ts';
import css from './boards.module.css';

/** Why a figure says what it says; who else sees the board, and how it leaves the desk. */
export function BoardSoundings({ id }: { readonly id: number }) {
  const { query } = useDeskLocation();
  const day = query.get('day') ?? undefined;
  const shown = useShownBoard(id, day).data;
  const mayShare = useMay('boards.share');
  const mayReport = useMay('reports.edit');
  const tile = shown?.tiles.find((t) => t.tile.id === query.get('tile'));
  return (
    <>
      {shown && tile?.figure && <WhyTile board={shown} shown={tile} />}
      <SoundingsSection title="On one page">
        <p className={css['acts']}>
          <a href={`/api/evidence/boards/${id}/pdf${day ? `?day=${day}` : ''}`} download>
            Print it, as PDF
          </a>
          <DayChoice
            label="As it stood on"
            value={day ?? new Date().toISOString().slice(0, 10)}
            onChoose={(d) => setQuery({ day: d })}
          />
        </p>
      </SoundingsSection>
      {mayReport && (
        <SoundingsSection title="By itself">
          <p className={css['acts']}>
            <a href={`/evidence/reports?new=report&of=board:${id}&every=week`}>Send it every Monday</a>
            <a href={`/evidence/reports?new=report&of=board:${id}&every=quarter`}>every quarter</a>
          </p>
        </SoundingsSection>
      )}
      {mayShare && <BoardLinks id={id} />}
    </>
  );
}

function WhyTile({ board, shown }: { readonly board: ShownBoard; readonly shown: ShownTile }) {
  const { figure, now, comparison } = shown;
  if (!figure) return null;
  const before = comparison?.before;
  const text = figureText(figure, now);
  const was = before && figureText(figure, before);
  return (
    <SoundingsSection title={figure.name}>
      <p>{figure.definition}</p>
      <dl className={css['facts']}>
        <dt>Reckoned</dt>
        <dd>{figure.formula}</dd>
        <dt>{now ? dateWords(now.day) : 'Now'}</dt>
        <dd>
          {text.value} {text.of}
          {now?.low !== undefined && now.high !== undefined && (
            <>
              , surely between {valueWords(figure, now.low)} and {valueWords(figure, now.high)}
            </>
          )}
        </dd>
        <dt>{dateWords(before?.day ?? board.comparedWith)}</dt>
        <dd>{was ? `${was.value} ${was.of}` : 'was not counted then'}</dd>
        <dt>Good is</dt>
        <dd>{figure.good === 'neither' ? 'neither more nor less' : figure.good}</dd>
        <dt>Wanted</dt>
        <dd>{figure.target === null ? 'nobody said' : valueWords(figure, figure.target)}</dd>
        <dt>Looked after by</dt>
        <dd>{figure.owner?.name ?? 'nobody'}</dd>
        <dt>Counted</dt>
        <dd>{now ? whenWords(now.countedAt) : 'not yet'}</dd>
      </dl>
      {comparison && <p>{comparison.why}</p>}
      <p className={css['acts']}>
        <a href={figureLink(figure.id, now?.day)}>Its rows{now ? ` on ${dateWords(now.day)}` : ''}</a>
        {before && <a href={figureLink(figure.id, before.day)}>and on {dateWords(before.day)}</a>}
      </p>
    </SoundingsSection>
  );
}

function BoardLinks({ id }: { readonly id: number }) {
  const links = useBoardLinks(id, true).data ?? [];
  const [isNew, setNew] = useState(false);
  const client = useQueryClient();
  const again = () => client.invalidateQueries({ queryKey: ['board links', String(id)] });
  const end = async (link: number) => {
    try {
      await request('DELETE', `/api/evidence/boards/${id}/links/${link}`);
      tell('Nobody sees the board by it any more.');
      await again();
    } catch (error) {
      tellFailure(error);
    }
  };
  return (
    <SoundingsSection title="Who else sees it">
      {links.length === 0 ? (
        <p>Nobody without an account. An address shows the numbers, never their rows, and ends by itself.</p>
      ) : (
        <ul className={css['links']} aria-label="Addresses of the board">
          {links.map((l) => (
            <li key={l.id}>
              {l.words || `Address ${l.id}`}, until {dateWords(l.endsAt)}
              <p>
                {l.opened === 0
                  ? 'not opened yet'
                  : `opened ${countWords(l.opened, 'time')}, last ${whenWords(l.openedAt ?? l.madeAt)}`}
                ; made by {l.madeBy}
              </p>
              <Button
                kind="quiet"
                aria-label={`End the address ${l.words || l.id}`}
                onClick={() => void end(l.id)}
              >
                End it now
              </Button>
            </li>
          ))}
        </ul>
      )}
      <Button onClick={() => setNew(true)}>Give it an address</Button>
      {isNew && (
        <NewLink
          id={id}
          onClose={() => {
            setNew(false);
            void again();
          }}
        />
      )}
    </SoundingsSection>
  );
}

function NewLink({ id, onClose }: { readonly id: number; readonly onClose: () => void }) {
  const [words, setWords] = useState('');
  const [days, setDays] = useState('30');
  const [made, setMade] = useState<{ address: string; endsAt: string }>();
  const { busy, refused, error, send } = useSending();
  const [wrongWords, wrongDays] = [error('words'), error('days')];
  return (
    <DialogForm
      title="An address of the board"
      onClose={onClose}
      onSubmit={() =>
        made
          ? onClose()
          : send(async () => {
              setMade(
                await request('POST', `/api/evidence/boards/${id}/links`, { words, days: Number(days) }),
              );
            })
      }
      act={made ? 'Done' : 'Make the address'}
      busy={busy}
      refused={wrongWords || wrongDays ? undefined : refused?.message}
    >
      {made ? (
        <>
          <p>
            Whoever has this address sees the board until {dateWords(made.endsAt)}, with what you may see. It
            is shown this once.
          </p>
          <CopyText label="The address" text={made.address} />
        </>
      ) : (
        <>
          <Field label="Whom it is for" error={wrongWords}>
            <input
              autoFocus
              maxLength={160}
              placeholder="The supervisory board"
              value={words}
              onChange={(e) => setWords(e.target.value)}
            />
          </Field>
          <Field label="For how many days" error={wrongDays}>
            <input type="number" min={1} max={366} value={days} onChange={(e) => setDays(e.target.value)} />
          </Field>
        </>
      )}
    </DialogForm>
  );
}
