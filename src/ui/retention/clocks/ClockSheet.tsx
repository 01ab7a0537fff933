import { useState } from 'react';
import { clockSentence, CLOCK_WAYS, type ClockContent } from '../../../core/retention/clock/clock-content.ts';
import type * as listApi from '../../../pages/api/retention/clocks/[id]/list.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { ListedClock } from '../../../server/retention/clocks/clocks.ts';
import { useMay } from '../../desk/account-context.ts';
import { go } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, numberWords, whenWords } from '../../desk/words.ts';
import { sendFile } from '../../holdings/offers.ts';
import { Button } from '../../parts/Button.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { NameSlot } from '../../rules/NameSlot.tsx';
import { RuleSentence } from '../../rules/RuleSentence.tsx';
import { usePlainObject } from '../../rules/use-plain-object.ts';
import { boundLink, CLOCKS, retentionRuleLink } from '../links.ts';
import { useClocks, useRetentionNames } from '../use-retention.ts';
import css from '../retention.module.css';

const SAVED = 'Saved; items are looked at again.';

/** What terms are counted from, where that is told, and of how many items it is known. */
export function ClockSheet({ id }: { readonly id: string }) {
  const { query, save } = usePlainObject<ClockContent>('clock', id);
  const names = useRetentionNames();
  const clocks = useClocks();
  const mayEdit = useMay('retention.edit');
  const [sending, setSending] = useState(false);
  if (query.isError && !query.data)
    return <Failure error={query.error} onRetry={() => void query.refetch()} />;
  if (!query.data || !names) return <Loading what="the clock" />;
  const { content } = query.data;
  const counted = clocks.data?.find((c) => String(c.id) === id);
  const set = (to: ClockContent) => void save(to, SAVED);
  const remove = async () => {
    try {
      await request('DELETE', `/api/retention/clocks/${id}`);
      tell('Removed.');
      go(CLOCKS);
    } catch (e) {
      tellFailure(e);
    }
  };
  return (
    <>
      <SheetHead
        title={
          <NameSlot
            name={content.name}
            set={(name) => set({ ...content, name })}
            fixed={!mayEdit}
            error={undefined}
          />
        }
        detail="Rules count from it, item by item; what happens where it is not known is said in each rule"
        actions={
          mayEdit && (
            <>
              {content.way === 'list' && <Button onClick={() => setSending(true)}>Send a list …</Button>}
              {counted?.uses.length === 0 && <Button onClick={() => void remove()}>Remove</Button>}
            </>
          )
        }
      />
      {counted && (
        <FigureRow>
          <Figure value={numberWords(counted.known)} words="items of which it is known" />
          <Figure
            value={numberWords(counted.unknown)}
            words="looked at, and not known"
            mark={counted.unknown > counted.known}
          />
          {(content.way === 'list' || content.way === 'column') && (
            <Figure
              value={numberWords(counted.days)}
              words={content.way === 'list' ? 'days in the list' : 'days in the table'}
            />
          )}
        </FigureRow>
      )}
      <RuleSentence
        sentence={clockSentence({ items: names.items, sources: names.sources }, content)}
        content={content}
        set={set}
        fixed={!mayEdit}
      />
      <p className={css['note']}>{ABOUT[content.way]}</p>
      {content.way === 'column' && counted && <TableRead {...counted} />}
      {counted && counted.uses.length > 0 && (
        <>
          <h2 className={css['heading']}>Counted from it</h2>
          <ul>
            {counted.uses.map((u) => (
              <li key={`${u.kind} ${u.id}`}>
                <a href={u.kind === 'bound' ? boundLink(u.id) : retentionRuleLink(u.id)}>{u.name}</a>
              </li>
            ))}
          </ul>
        </>
      )}
      {sending && <SendList id={id} onClose={() => setSending(false)} />}
    </>
  );
}

const ABOUT: Readonly<Record<keyof typeof CLOCK_WAYS, string>> = {
  name: 'As 2026-07-02, 20260702, 02.07.2026 or 2 July 2026; of a month alone, as 2026-07, its last day.',
  list: 'A CSV with the columns mark and day. A mark counts where it stands in a name as whole words, whatever parts them: “2026-07-02 MS Hale” in manifest_2026-07-02_MS-Hale.xlsx. The longest counts.',
  found: 'Each item is read once, and again when it changed.',
  column:
    'The table is read once a day, and when this is changed. What names hold counts where it stands in one as whole words, from four letters or digits on; the longest counts, and of two days the later one.',
};

function TableRead({ readAt, readWords, problem }: Pick<ListedClock, 'readAt' | 'readWords' | 'problem'>) {
  if (readAt === null) return <p className={css['note']}>It is read within a minute.</p>;
  return problem === '' ? (
    <p className={css['note']}>
      Read {whenWords(readAt)}: {readWords}
    </p>
  ) : (
    <p className={css['mark']} role="status">
      ◆ Not read {whenWords(readAt)}: {problem} What was known before counts on; it is tried again every hour.
    </p>
  );
}

function SendList({ id, onClose }: { readonly id: string; readonly onClose: () => void }) {
  const [file, setFile] = useState<File>();
  const { busy, refused, error, send } = useSending();
  const take = async () => {
    if (!file) return;
    const { days } = await request<AnswerOf<typeof listApi.POST>>(
      'POST',
      `/api/retention/clocks/${id}/list`,
      {
        upload: await sendFile(file),
      },
    );
    tell(`${countWords(days, 'day')} taken; items are looked at again.`);
    onClose();
  };
  const faults = refused?.refusal.fields.filter((f) => f.field.startsWith('row ')) ?? [];
  return (
    <DialogForm
      title="Send a list of days"
      onClose={onClose}
      onSubmit={() => send(take)}
      act="Take it in the place of the one before"
      busy={busy}
      disabled={!file}
      refused={error('upload') ? undefined : refused?.message}
    >
      <Field label="CSV with the columns mark and day" error={error('upload')}>
        <input
          type="file"
          accept=".csv,.tsv,.txt,.xlsx"
          autoFocus
          onChange={(e) => setFile(e.target.files?.[0])}
        />
      </Field>
      {faults.slice(0, 8).map((f) => (
        <p key={f.field} role="alert">
          ◆ {f.field}: {f.message}
        </p>
      ))}
    </DialogForm>
  );
}
