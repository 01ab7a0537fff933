import { useState } from 'react';
import { parseLens } from '../../../core/lens/lens-text.ts';
import { CHANNEL_WORDS, CHANNELS } from '../../../core/protection/handling/channel.ts';
import { useDeskLocation } from '../../desk/location.ts';
import { LensChoice } from '../../holdings/offers.ts';
import { SelectField } from '../../parts/SelectField.tsx';
import { NewNamed } from '../../rules/NewNamed.tsx';
import { handlingLink } from '../links.ts';

/** Names a rule, a way on which data is put in motion, and the lens it begins with. */
export function NewHandlingRule() {
  const asked = useDeskLocation().query.get('lens') ?? '';
  const [channel, setChannel] = useState<string>('web form');
  const [line, setLine] = useState(asked || 'everything');
  return (
    <NewNamed
      title="New handling rule"
      path="/api/protection/handling"
      link={handlingLink}
      most={120}
      placeholder="Cards into web forms"
      more={() => ({ channel, lens: parseLens(line) })}
      fields={
        <>
          <SelectField
            label="When somebody"
            value={channel}
            options={CHANNELS.map((value) => ({ value, words: CHANNEL_WORDS[value] }))}
            onChange={setChannel}
          />
          <LensChoice label="What has" asked={asked} line={line} onChange={setLine} />
        </>
      }
    />
  );
}
