import { useState } from 'react';
import { parseLens } from '../../../core/lens/lens-text.ts';
import { CHANNEL_WORDS, CHANNELS } from '../../../core/protection/handling/channel.ts';
import { useDeskLocation } from '../../desk/location.ts';
import { LensChoice } from '../../holdings/offers.ts';
import { SelectField } from '../../parts/SelectField.tsx';
import { NewNamed } from '../../rules/NewNamed.tsx';
import { lookoutLink } from '../links.ts';

/** Names a lookout, and what it begins to watch. */
export function NewLookout() {
  const asked = useDeskLocation().query.get('lens') ?? '';
  const [channel, setChannel] = useState('');
  const [line, setLine] = useState(asked || 'everything');
  return (
    <NewNamed
      title="New lookout"
      path="/api/protection/lookouts"
      link={lookoutLink}
      most={120}
      placeholder="Passports to sticks"
      more={() => ({ channels: channel === '' ? [] : [channel], lens: parseLens(line) })}
      fields={
        <>
          <SelectField
            label="Watch when somebody"
            value={channel}
            options={[
              { value: '', words: 'does anything at all' },
              ...CHANNELS.map((value) => ({ value, words: CHANNEL_WORDS[value] })),
            ]}
            onChange={setChannel}
          />
          <LensChoice label="What has" asked={asked} line={line} onChange={setLine} />
        </>
      }
    >
      It begins as a draft that raises nothing; what it would have raised over the last 30 days stands beside
      it.
    </NewNamed>
  );
}
