import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { aimOf, valueWords } from '../../../core/figures/told.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { Button } from '../../parts/Button.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { useBoards, useFigure, type FigureInFull } from '../boards/use-boards.ts';
import css from '../boards/boards.module.css';

/** How a figure is reckoned, what is wanted of it, and who looks after it. */
export function FigureSoundings({ id }: { readonly id: string }) {
  const figure = useFigure(id).data;
  const [isAiming, setAiming] = useState(false);
  const mayAim = useMay('figures.aim');
  if (!figure) return null;
  const aim = aimOf(figure, figure.days.at(-1) ?? null, figure.target);
  return (
    <>
      <SoundingsSection title="How it is reckoned">
        <dl className={css['facts']}>
          <dt>Is</dt>
          <dd>{figure.formula}</dd>
          <dt>Good is</dt>
          <dd>{figure.good === 'neither' ? 'neither more nor less' : figure.good}</dd>
          <dt>By chance</dt>
          <dd>
            {figure.sampledDays === undefined
              ? 'no: all there is is counted'
              : `yes: what people did in ${figure.sampledDays} days; a change is told as one where chance does so much less than once in 100 times`}
          </dd>
          <dt>Told apart by</dt>
          <dd>{figure.parts.length === 0 ? 'time alone' : figure.parts.join(', ')}</dd>
          <dt>Called</dt>
          <dd>
            <code>{figure.id}</code>
          </dd>
        </dl>
      </SoundingsSection>
      <SoundingsSection title="What is wanted">
        <p>
          {figure.target === null
            ? 'Nobody said what it is to be.'
            : `${figure.good === 'less' ? 'At most' : 'At least'} ${valueWords(figure, figure.target)}${
                aim === 'met' ? ': ✓ it is so.' : aim === 'short' ? ': ◆ it is not.' : '.'
              }`}{' '}
          {figure.owner ? `${figure.owner.name} looks after it.` : 'Nobody looks after it.'}
        </p>
        {mayAim && <Button onClick={() => setAiming(true)}>Say what is wanted</Button>}
        {isAiming && <AimDialog figure={figure} onClose={() => setAiming(false)} />}
      </SoundingsSection>
      <OnBoards figure={figure.id} />
    </>
  );
}

function OnBoards({ figure }: { readonly figure: string }) {
  const boards = (useBoards().data ?? []).filter((b) => b.figures.includes(figure));
  if (boards.length === 0) return null;
  return (
    <SoundingsSection title="On boards">
      <ul className={css['links']}>
        {boards.map((b) => (
          <li key={b.id}>
            <a href={`/evidence/boards/${b.id}`}>{b.name}</a>
          </li>
        ))}
      </ul>
    </SoundingsSection>
  );
}

function AimDialog({ figure, onClose }: { readonly figure: FigureInFull; readonly onClose: () => void }) {
  const isShare = figure.unit === '%' || figure.asShare === true;
  const people = useQuery({
    queryKey: ['figure people', figure.id],
    queryFn: () =>
      request<readonly { readonly id: number; readonly name: string }[]>(
        'GET',
        `/api/evidence/figures/${encodeURIComponent(figure.id)}/people`,
      ),
  });
  const [target, setTarget] = useState(
    figure.target === null ? '' : String(isShare ? Math.round(figure.target * 1000) / 10 : figure.target),
  );
  const [owner, setOwner] = useState(String(figure.owner?.id ?? ''));
  const { busy, refused, error, send } = useSending();
  const client = useQueryClient();
  const number = target.trim() === '' ? null : Number(target.replace(',', '.'));
  const wrong = number !== null && !Number.isFinite(number) ? 'A number, or nothing' : error('target');
  return (
    <DialogForm
      title={`What is wanted: ${figure.name}`}
      onClose={onClose}
      onSubmit={() =>
        send(async () => {
          if (number !== null && !Number.isFinite(number)) return;
          await request('POST', `/api/evidence/figures/${encodeURIComponent(figure.id)}/aim`, {
            target: number === null ? null : isShare ? number / 100 : number,
            owner: owner === '' ? null : Number(owner),
          });
          tell('Kept.');
          await client.invalidateQueries({ queryKey: ['figure'] });
          await client.invalidateQueries({ queryKey: ['figure catalogue'] });
          onClose();
        })
      }
      act="Keep it"
      busy={busy}
      refused={wrong || error('owner') ? undefined : refused?.message}
    >
      <Field
        label={`${figure.good === 'less' ? 'At most' : 'At least'}${isShare ? ', in %' : ''}`}
        hint="Nothing for no target."
        error={wrong}
      >
        <input autoFocus inputMode="decimal" value={target} onChange={(e) => setTarget(e.target.value)} />
      </Field>
      <Field label="Who looks after it" error={error('owner')}>
        <select value={owner} onChange={(e) => setOwner(e.target.value)}>
          <option value="">nobody</option>
          {(people.data ?? []).map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </select>
      </Field>
    </DialogForm>
  );
}
