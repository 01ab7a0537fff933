import { useState } from 'react';
import { go, setQuery, useDeskLocation } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { Segments } from '../../parts/Segments.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { levelRunLink } from '../links.ts';
import { useLevelRules } from '../use-protection.ts';

/** Rehearse, or set: either is estimated first. */
export function NewLevelRun() {
  const { query } = useDeskLocation();
  const rules = useLevelRules();
  const rule = rules.data?.find((r) => r.id === query.get('rule'));
  const isInForce = rule?.stage.state === 'in force';
  const [mode, setMode] = useState<'rehearse' | 'set'>('rehearse');
  const [keepDays, setKeepDays] = useState('30');
  const { busy, refused, error, send } = useSending();
  const add = async () => {
    const { id } = await request<{ id: string }>('POST', '/api/protection/runs', {
      mode,
      ...(rule && mode === 'rehearse' && !isInForce ? { rule: rule.id } : {}),
      keepDays: Number(keepDays),
    });
    go(levelRunLink(id));
  };
  return (
    <DialogForm
      title="Set levels backwards"
      onClose={() => setQuery({ new: null, rule: null })}
      onSubmit={() => send(add)}
      act="Estimate what it takes"
      busy={busy}
      refused={error('keepDays') ? undefined : (error('rule') ?? refused?.message)}
    >
      <Segments
        label="What it does"
        value={mode}
        options={[
          { value: 'rehearse', words: 'Rehearse: try each document' },
          { value: 'set', words: 'Set the levels' },
        ]}
        onChange={(m) => setMode(m as 'rehearse' | 'set')}
      />
      <p>
        {mode === 'rehearse'
          ? rule && !isInForce
            ? `Every document is stamped in memory as the rules in force and “${rule.name}” would have it; none is written.`
            : 'Every document is stamped in memory as the rules in force would have it; none is written.'
          : 'All rules in force are weighed together for each item. Rules that are drafts, or rehearse, set nothing.'}
      </p>
      {mode === 'set' && (
        <Field label="Days for which each document is kept as it was" error={error('keepDays')}>
          <input
            type="number"
            min={0}
            max={3650}
            value={keepDays}
            onChange={(e) => setKeepDays(e.target.value)}
          />
        </Field>
      )}
    </DialogForm>
  );
}
