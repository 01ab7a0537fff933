import { useState } from 'react';
import type { Act } from '../../../core/rules/rule.ts';
import {
  RetentionRuleContent,
  retentionSentence,
  retentionVocabulary,
  type RetentionRuleDraft,
} from '../../../core/retention/rules/retention-rule.ts';
import { NOT_CHOSEN } from '../../../core/retention/rules/term.ts';
import { lensText } from '../../../core/lens/lens-text.ts';
import { useMay } from '../../desk/account-context.ts';
import { numberWords } from '../../desk/words.ts';
import { lensLink } from '../../holdings/offers.ts';
import { Button } from '../../parts/Button.tsx';
import { Sentence } from '../../parts/Sentence.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { SentenceSheet } from '../../rules/SentenceSheet.tsx';
import { holdLink, RULES } from '../links.ts';
import { useRetentionNames, useRetentionOutlook, useRetentionRule } from '../use-retention.ts';
import { FirstToGo } from './FirstToGo.tsx';
import { TryOneItem } from './TryOneItem.tsx';

/** How long something is kept, and what follows. */
export function RetentionRuleSheet({ id }: { readonly id: string }) {
  const rule = useRetentionRule(id);
  const names = useRetentionNames();
  const mayEdit = useMay('retention.edit');
  const [trying, setTrying] = useState(false);
  if (rule.isError && !rule.data) return <Failure error={rule.error} onRetry={() => void rule.refetch()} />;
  if (!rule.data || !names) return <Loading what="the rule" />;
  return (
    <>
      <SentenceSheet
        rule={rule.data}
        schema={RetentionRuleContent as never}
        sentence={(content: RetentionRuleDraft) => retentionSentence(names, content)}
        vocabulary={retentionVocabulary(names)}
        detail={({ lens }) => (
          <>
            The most specific rule decides, within what the law asks; a hold beats all ·{' '}
            <a href={lensLink(lensText(lens))}>Look at the items</a>
          </>
        )}
        means={{
          draft: 'nothing goes; the soundings tell what would',
          rehearsing: 'counted daily, nothing goes',
          inForce: 'weighed with the others each day',
          stopped: 'nothing goes by it',
        }}
        done={DONE_WORDS}
        edit="retention.edit"
        force="retention.put-in-force"
        list={RULES}
        actions={<Button onClick={() => setTrying(true)}>Try on one item</Button>}
        below={(content, set) => (
          <>
            <HeldLine id={id} revision={rule.data.revision} content={content} />
            {mayEdit && content.beyond === '' && (
              <MoreSlots id={id} revision={rule.data.revision} content={content} set={set} />
            )}
            {content.keep !== NOT_CHOSEN && <FirstToGo id={id} revision={rule.data.revision} />}
          </>
        )}
      />
      {trying && <TryOneItem rule={id} onClose={() => setTrying(false)} />}
    </>
  );
}

interface Part {
  readonly id: string;
  readonly revision: number;
  readonly content: RetentionRuleDraft;
}

/** What holds keep of it. */
function HeldLine({ id, revision, content }: Part) {
  const { data } = useRetentionOutlook(id, revision, content.keep !== NOT_CHOSEN);
  if (!data || data.heldBy.length === 0) return null;
  return (
    <Sentence label="Unless">
      a hold covers it:{' '}
      {data.heldBy.map((h, i) => (
        <span key={h.id}>
          {i > 0 && ', '}
          <a href={holdLink(h.id)}>{h.name}</a> keeps {numberWords(h.count)}
        </span>
      ))}
    </Sentence>
  );
}

/** Lines that most rules do without, once something asks for them. */
function MoreSlots({
  id,
  revision,
  content,
  set,
}: Part & { readonly set: (content: RetentionRuleDraft) => void }) {
  const { data } = useRetentionOutlook(id, revision, content.keep !== NOT_CHOSEN);
  if (!data) return null;
  return (
    <p>
      {data.movedBy.length > 0 && (
        <Button onClick={() => set({ ...content, beyond: 'It keeps to what the law lets, item by item.' })}>
          Say why it asks for more than the law lets
        </Button>
      )}{' '}
      {data.rivals.length > 0 && content.order === null && (
        <Button onClick={() => set({ ...content, order: 1 })}>Put it in order among its equals</Button>
      )}
    </p>
  );
}

const DONE_WORDS: Readonly<Record<Act['act'], string>> = {
  rehearse: 'Rehearsing: it is counted each day, and nothing goes.',
  'end rehearsal': 'The rehearsal is over.',
  'put in force': 'In force: what is due is asked about, or goes, as it says.',
  pause: 'Paused: nothing goes by it.',
  resume: 'In force again.',
  retire: 'Retired: nothing goes by it. It can be taken up again.',
  reopen: 'A draft again.',
};
