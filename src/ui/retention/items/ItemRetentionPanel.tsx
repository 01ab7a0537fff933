import { useState } from 'react';
import { dayText } from '../../../core/text/day.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { disposalLink, holdLink, retentionRuleLink } from '../links.ts';
import { useItemRetention } from '../use-retention.ts';
import { MakeException } from './MakeException.tsx';
import { VerdictText } from './VerdictText.tsx';
import css from '../retention.module.css';

/** Why an item is here still, when it goes, and having it kept longer or shorter by hand. */
export function ItemRetentionPanel({ id }: { readonly id: string }) {
  const mayExcept = useMay('retention.except');
  const [making, setMaking] = useState(false);
  const { data } = useItemRetention(id);
  if (!data) return null;
  const end = async (exception: number) => {
    try {
      await request('DELETE', `/api/retention/exceptions/${exception}`);
      tell('Taken back: rules decide again.');
    } catch (e) {
      tellFailure(e);
    }
  };
  return (
    <SoundingsSection title="How long it is kept">
      <VerdictText verdict={data} />
      <p className={css['note']}>
        {data.by?.isRule && <a href={retentionRuleLink(data.by.id)}>The rule</a>}{' '}
        {data.holds.map((h) => (
          <a key={h.id} href={holdLink(h.id)}>
            {h.name}
          </a>
        ))}{' '}
        {data.disposal && <a href={disposalLink(data.disposal)}>The disposal that it stands in</a>}
      </p>
      {data.exceptions.map((e) => (
        <p key={e.id}>
          Set by {e.by ?? 'the program'}, {whenWords(e.at)}: {e.words}
          {e.until && `, up to ${dayText(e.until)}`}. {e.reason}{' '}
          {mayExcept && <Button onClick={() => void end(e.id)}>Take it back</Button>}
        </p>
      ))}
      {mayExcept && <Button onClick={() => setMaking(true)}>Keep it longer or shorter</Button>}
      {making && <MakeException items={[Number(id)]} onClose={() => setMaking(false)} />}
    </SoundingsSection>
  );
}
