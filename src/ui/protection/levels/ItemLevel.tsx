import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type * as itemApi from '../../../pages/api/protection/items/[id]/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { SelectField } from '../../parts/SelectField.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { SayToProposal } from '../rules/SayToProposal.tsx';
import { levelLink } from '../links.ts';
import css from '../protection.module.css';

type Level = AnswerOf<typeof itemApi.GET>;

/** The level of an item, why it has it, and choosing another by hand. */
export function ItemLevel({ id }: { readonly id: string }) {
  const maySet = useMay('protection.set');
  const [choosing, setChoosing] = useState(false);
  const { data } = useQuery({
    queryKey: ['item-level', id],
    queryFn: () => request<Level>('GET', `/api/protection/items/${id}`),
  });
  if (!data) return null;
  const { stands, why, choices, asked } = data;
  return (
    <SoundingsSection title="Level">
      {stands ? (
        <p>
          <a href={levelLink(stands.level)}>
            <b>{stands.name}</b>
          </a>{' '}
          since {whenWords(stands.since)}
          {stands.by && `, by ${stands.by}`}
          {stands.reason && `: ${stands.reason}`}
        </p>
      ) : (
        <p>It has none.</p>
      )}
      {stands?.unstamped && <p className={css['note']}>{stands.unstamped}</p>}
      {why.map((w) => (
        <p key={w} className={css['note']}>
          {w}
        </p>
      ))}
      {asked.map((p) => (
        <p key={p.rule}>
          {p.owner ?? 'Its owner'} is asked since {whenWords(p.since)} whether it is <b>{p.levelName}</b>.{' '}
          {maySet && <SayToProposal proposal={p} onSaid={tell} />}
        </p>
      ))}
      {maySet && choices.length > 0 && <Button onClick={() => setChoosing(true)}>Choose its level</Button>}
      {choosing && <ChooseLevel id={id} level={data} onClose={() => setChoosing(false)} />}
    </SoundingsSection>
  );
}

function ChooseLevel({
  id,
  level,
  onClose,
}: {
  readonly id: string;
  readonly level: Level;
  readonly onClose: () => void;
}) {
  const { stands, choices } = level;
  const [chosen, setChosen] = useState(stands?.level ?? choices[0]?.id ?? '');
  const [reason, setReason] = useState('');
  const { busy, refused, error, send } = useSending();
  const rank = (of: string | undefined) => choices.find((c) => c.id === of)?.rank ?? -1;
  const asksWhy =
    stands &&
    rank(chosen) < rank(stands.level) &&
    choices.find((c) => c.id === stands.level)?.lowered !== 'freely';
  const set = async () => {
    const { unstamped } = await request<{ unstamped: string | null }>('POST', `/api/protection/items/${id}`, {
      level: chosen,
      reason,
    });
    tell(unstamped === null ? 'Set, and stamped on the document.' : `Set. ${unstamped}`);
    onClose();
  };
  return (
    <DialogForm
      title="Choose its level"
      onClose={onClose}
      onSubmit={() => send(set)}
      act="Set it"
      actBusy="Stamping …"
      busy={busy}
      disabled={chosen === stands?.level}
      refused={error('level', 'reason') ? undefined : refused?.message}
    >
      <SelectField
        label="Level"
        value={chosen}
        options={choices.map((c) => ({ value: c.id, words: c.name }))}
        onChange={setChosen}
      />
      {error('level') && <p role="alert">◆ {error('level')}</p>}
      {asksWhy && (
        <Field label="Why it may be lowered" error={error('reason')}>
          <input value={reason} maxLength={400} onChange={(e) => setReason(e.target.value)} />
        </Field>
      )}
      <p>The document is stamped at once, where it carries a marking. A stronger rule may still raise it.</p>
    </DialogForm>
  );
}
