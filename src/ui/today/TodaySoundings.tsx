import { useRemembered } from '../desk/preferences.ts';
import { numberWords } from '../desk/words.ts';
import { BoardGlance, useBoards, useShownBoard } from '../evidence/offers.ts';
import { SelectField } from '../parts/SelectField.tsx';
import { SoundingsSection } from '../parts/SoundingsSection.tsx';
import { Sparkline } from '../parts/Sparkline.tsx';
import { useTrends } from './use-today.ts';
import css from './today.module.css';

const BEFORE_DAYS = 30;

/** A board of figures, and whether there is more of each kind of item than a month ago. */
export function TodaySoundings() {
  return (
    <>
      <OwnBoard />
      <Trends />
    </>
  );
}

function OwnBoard() {
  const boards = useBoards().data ?? [];
  const [remembered, setRemembered] = useRemembered('today.board', 0);
  const chosen = boards.find((b) => b.id === remembered) ?? boards[0];
  return chosen ? (
    <BoardBeside key={chosen.id} id={chosen.id} boards={boards} onChoose={setRemembered} />
  ) : null;
}

function BoardBeside({
  id,
  boards,
  onChoose,
}: {
  readonly id: number;
  readonly boards: readonly { readonly id: number; readonly name: string }[];
  readonly onChoose: (id: number) => void;
}) {
  const shown = useShownBoard(id);
  // Figures are about all there is: whoever is kept to a part of it has no board.
  if (!shown.data) return null;
  const { board, tiles } = shown.data;
  return (
    <SoundingsSection title={board.name}>
      <BoardGlance tiles={tiles} compare={board.compare} />
      <p className={css['board']}>
        <a href={`/evidence/boards/${id}`}>Open it</a>
        <a href={`/evidence/reports?new=report&of=board:${id}&every=week`}>Send it every Monday</a>
        <a href={`/api/evidence/boards/${id}/pdf`} download>
          On one page
        </a>
        {boards.length > 1 && (
          <SelectField
            label="Board beside Today"
            value={String(id)}
            options={boards.map((b) => ({ value: String(b.id), words: b.name }))}
            onChange={(next) => onChoose(Number(next))}
          />
        )}
      </p>
    </SoundingsSection>
  );
}

function Trends() {
  const trends = useTrends().data?.trends ?? [];
  if (trends.length === 0) return null;
  return (
    <SoundingsSection title="More, or less, than a month ago">
      <table className={css['trends']}>
        <thead>
          <tr>
            <th scope="col">Kind</th>
            <th scope="col">Now</th>
            <th scope="col">60 days</th>
          </tr>
        </thead>
        <tbody>
          {trends.map((t) => {
            const now = t.days.at(-1)?.items ?? 0;
            const before = t.days.at(-1 - BEFORE_DAYS)?.items;
            const change = before === undefined ? 0 : now - before;
            return (
              <tr key={t.kind}>
                <th scope="row">{t.words}</th>
                <td>
                  <b>{numberWords(now)}</b>{' '}
                  {change !== 0 && (
                    <span data-worse={(change > 0 && t.tone === 'wrong') || undefined}>
                      {change > 0 ? '+' : '−'}
                      {numberWords(Math.abs(change))}
                    </span>
                  )}
                </td>
                <td>
                  <Sparkline
                    values={t.days.map((d) => d.items)}
                    label={`${t.words}: ${t.days[0]?.items ?? 0} on ${t.days[0]?.day ?? ''}, ${now} now`}
                  />
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </SoundingsSection>
  );
}
