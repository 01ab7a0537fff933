import { useState } from 'react';
import { parseLens } from '../../../core/lens/lens-text.ts';
import { useDeskLocation } from '../../desk/location.ts';
import { LensChoice } from '../../holdings/offers.ts';
import { SelectField } from '../../parts/SelectField.tsx';
import { NewNamed } from '../../rules/NewNamed.tsx';
import { levelRuleLink } from '../links.ts';
import { useLevels } from '../use-protection.ts';

/** Names a rule, its level and the lens it begins with; all of it can be changed on its sheet. */
export function NewLevelRule() {
  const asked = useDeskLocation().query.get('lens') ?? '';
  const levels = useLevels();
  const [level, setLevel] = useState('');
  const [line, setLine] = useState(asked || 'everything');
  const chosen = level || (levels.data?.[0]?.id ?? '');
  return (
    <NewNamed
      title="New level rule"
      path="/api/protection/rules"
      link={levelRuleLink}
      most={120}
      placeholder="Health notes in manifests"
      more={() => ({ level: chosen, lens: parseLens(line), keeps: 'step', because: '' })}
      fields={
        <>
          <SelectField
            label="Sets"
            value={chosen}
            options={(levels.data ?? []).map((l) => ({ value: l.id, words: l.name }))}
            onChange={setLevel}
          />
          <LensChoice label="Where this holds" asked={asked} line={line} onChange={setLine} />
        </>
      }
    />
  );
}
