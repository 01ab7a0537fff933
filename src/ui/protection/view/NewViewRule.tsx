import { useState } from 'react';
import { Field } from '../../parts/Field.tsx';
import { NewNamed } from '../../rules/NewNamed.tsx';
import { viewRuleLink } from '../links.ts';

/** Names a rule about what is kept, and for how long. */
export function NewViewRule() {
  const [days, setDays] = useState('365');
  return (
    <NewNamed
      title="New rule about what is kept"
      path="/api/protection/view"
      link={viewRuleLink}
      most={120}
      placeholder="What was stopped, for three years"
      more={() => ({ days: Number(days) })}
      fields={
        <Field label="Kept for how many days; 0 for not at all">
          <input type="number" min={0} max={3650} value={days} onChange={(e) => setDays(e.target.value)} />
        </Field>
      }
    >
      It begins as a draft; which lookouts it would blind stands beside it.
    </NewNamed>
  );
}
