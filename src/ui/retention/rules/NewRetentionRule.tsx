import { useState } from 'react';
import { parseLens } from '../../../core/lens/lens-text.ts';
import { useDeskLocation } from '../../desk/location.ts';
import { LensChoice } from '../../holdings/offers.ts';
import { NewNamed } from '../../rules/NewNamed.tsx';
import { retentionRuleLink } from '../links.ts';

/** Names a rule and the lens it begins with; all of it can be changed on its sheet. */
export function NewRetentionRule() {
  const asked = useDeskLocation().query.get('lens') ?? '';
  const [line, setLine] = useState(asked || 'everything');
  return (
    <NewNamed
      title="New retention rule"
      path="/api/retention/rules"
      link={retentionRuleLink}
      most={120}
      placeholder="Boarding manifests"
      more={() => ({ lens: parseLens(line) })}
      fields={<LensChoice label="What it keeps" asked={asked} line={line} onChange={setLine} />}
    />
  );
}
