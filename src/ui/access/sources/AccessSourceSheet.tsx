import { useState } from 'react';
import { useQuery } from '@tanstack/react-query';
import {
  ACCESS_SOURCE_KINDS,
  AccessSourceContent,
  isDirectory,
  namesHoldings,
  takesChanges,
} from '../../../core/access/sources/access-source.ts';
import type * as sourceApi from '../../../pages/api/access/sources/[id]/index.ts';
import type { LineSources } from '../../../server/access/sources/line-sources.ts';
import type { AccessSourceView } from '../../../server/access/sources/access-sources.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useMay } from '../../desk/account-context.ts';
import { go } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { MenuButton } from '../../parts/MenuButton.tsx';
import { Sentence } from '../../parts/Sentence.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { usePlainObject } from '../../rules/use-plain-object.ts';
import { SOURCES } from '../links.ts';
import { useAccessSources } from '../use-access.ts';
import { linesWords } from './lines-words.ts';
import { MoveAccessSource } from './MoveAccessSource.tsx';
import { ReadNow } from './ReadNow.tsx';
import css from '../access.module.css';

/** A source of rights: how it is read, whether it is written to, where its items lie, and what of it could not be taken. */
export function AccessSourceSheet({ id }: { readonly id: string }) {
  const { query, save } = usePlainObject<AccessSourceContent>('access source', id);
  const sources = useAccessSources();
  const mayEdit = useMay('access.sources');
  const [open, setOpen] = useState<'move' | 'remove'>();
  const failed = query.error ?? sources.error;
  if (failed && !(query.data && sources.data))
    return <Failure error={failed} onRetry={() => void query.refetch()} />;
  const source = sources.data?.find((s) => String(s.id) === id);
  if (!query.data || !source) return <Loading what="the source" />;
  const { content } = query.data;
  const set = (change: Partial<AccessSourceContent>, done = 'Saved.') =>
    void save({ ...content, ...change }, done);
  const { address } = source;
  return (
    <>
      <SheetHead
        title={content.name}
        detail={
          <>
            <a href={SOURCES}>All sources of rights</a> · {ACCESS_SOURCE_KINDS[address.kind]}
            {source.readAt !== null && ` · read ${whenWords(source.readAt)}: ${linesWords(source)}`}
          </>
        }
        actions={
          mayEdit && (
            <>
              <MenuButton
                label="More"
                acts={[{ id: 'remove', words: 'Take it out', act: () => setOpen('remove') }]}
              />
              {address.kind !== 'staff list' && (
                <Button onClick={() => setOpen('move')}>
                  {address.kind === 'estate file' ? 'Take in a newer file …' : 'Change where it is read …'}
                </Button>
              )}
              <ReadNow source={source} />
            </>
          )
        }
      />
      {source.problem !== null && (
        <p role="alert" className={css['mark']}>
          ◆ {source.problem} {source.triedAt !== null && `Tried ${whenWords(source.triedAt)}; `}what was known
          before stays.
        </p>
      )}
      <Sentence label="It">
        is called{' '}
        <Slot
          label="Name"
          words={content.name}
          fixed={!mayEdit}
          edit={{ kind: 'text', most: 120, value: content.name, set: (name) => set({ name }) }}
        />{' '}
        and is read{' '}
        <Slot
          label="How often"
          words={everyWords(content.everyHours)}
          fixed={!mayEdit}
          edit={{
            kind: 'choice',
            value: String(content.everyHours ?? ''),
            options: [...new Set([null, 1, 2, 6, 24, 168, content.everyHours])].map((h) => ({
              value: String(h ?? ''),
              words: everyWords(h),
            })),
            set: (h) => set({ everyHours: h === '' ? null : Number(h) }),
          }}
        />
        .
      </Sentence>
      {takesChanges(address.kind) && (
        <Sentence label="Changes">
          are{' '}
          <Slot
            label="How changes are made"
            words={writesWords(content.writes)}
            fixed={!mayEdit}
            edit={{
              kind: 'choice',
              value: String(content.writes),
              options: [true, false].map((w) => ({ value: String(w), words: writesWords(w) })),
              set: (w) => set({ writes: w === 'true' }),
            }}
          />
          .
        </Sentence>
      )}
      {!isDirectory(address.kind) && (
        <Sentence label="Places">
          are opened at{' '}
          <Slot
            label="Where places are opened"
            words={content.opens || 'no address'}
            fixed={!mayEdit}
            edit={{
              ...{ kind: 'text', most: 500, value: content.opens, set: (opens) => set({ opens }) },
              hint: 'With {id} for what the source calls the place; empty for none',
              check: (opens) =>
                AccessSourceContent.shape.opens.safeParse(opens).error?.issues[0]?.message ?? '',
            }}
          />
          .
        </Sentence>
      )}
      {'url' in address && (
        <Sentence label="Where">
          <b>{address.url}</b>
        </Sentence>
      )}
      {namesHoldings(address.kind) && (
        <WhereItemsLie
          id={id}
          mayEdit={mayEdit}
          set={(name, to) => {
            const others = content.holds.filter((h) => h.name !== name);
            set(
              { holds: to === undefined ? others : [...others, { name, source: to }] },
              'Saved; it is read anew.',
            );
          }}
        />
      )}
      {source.faults.length > 0 && (
        <>
          <h2 className={css['heading']}>What could not be taken</h2>
          <ul className={css['plain']}>
            {source.faults.map((f) => (
              <li key={f}>◆ {f}</li>
            ))}
          </ul>
        </>
      )}
      {open === 'move' && <MoveAccessSource source={source} onClose={() => setOpen(undefined)} />}
      {open === 'remove' && <Remove source={source} onClose={() => setOpen(undefined)} />}
    </>
  );
}

function everyWords(hours: number | null): string {
  return hours === null ? 'when somebody asks' : `every ${countWords(hours, 'hour')}`;
}

function writesWords(writes: boolean): string {
  return writes ? 'written to it from here' : 'asked for by work order';
}

const BY_NAME = 'by name';
const NOWHERE = 'nowhere';

/** Which source of Holdings each name in the lines stands for: of what lies there, Access knows what is found in it. */
function WhereItemsLie({
  id,
  mayEdit,
  set,
}: {
  readonly id: string;
  readonly mayEdit: boolean;
  readonly set: (name: string, to: number | null | undefined) => void;
}) {
  const lies = useQuery({
    queryKey: ['access-source-lies', id],
    queryFn: () => request<AnswerOf<typeof sourceApi.GET>>('GET', `/api/access/sources/${id}`),
  });
  if (lies.isError) return <Failure error={lies.error} onRetry={() => void lies.refetch()} />;
  if (!lies.data) return <Loading what="where its items lie" />;
  const { named, holdings } = lies.data;
  const words = ({ holdings: of, isSaid }: LineSources['named'][number]) => {
    const name = holdings.find((h) => Number(h.id) === of)?.name;
    if (name === undefined)
      return isSaid ? 'no source of Holdings' : 'no source of Holdings that is called so';
    return isSaid ? name : `${name}, which is called the same`;
  };
  return (
    <>
      <h2 className={css['heading']}>Where its items lie</h2>
      {named.length === 0 ? (
        <p className={css['note']}>It tells of no places yet.</p>
      ) : (
        <FigureTable
          columns={['What it calls', 'Lies in']}
          rows={named.map((n) => ({
            key: n.name,
            cells: [
              n.name,
              <Slot
                key="lies"
                label={`Where ${n.name} lies`}
                words={words(n)}
                fixed={!mayEdit}
                edit={{
                  kind: 'choice',
                  value: !n.isSaid ? BY_NAME : n.holdings === null ? NOWHERE : String(n.holdings),
                  options: [
                    { value: BY_NAME, words: 'The source that is called the same' },
                    { value: NOWHERE, words: 'No source of Holdings' },
                    ...holdings.map((h) => ({ value: h.id, words: h.name })),
                  ],
                  set: (to) => set(n.name, to === BY_NAME ? undefined : to === NOWHERE ? null : Number(to)),
                }}
              />,
            ],
          }))}
        />
      )}
    </>
  );
}

function Remove({ source, onClose }: { readonly source: AccessSourceView; readonly onClose: () => void }) {
  const { busy, refused, send } = useSending();
  const remove = async () => {
    await request('DELETE', `/api/access/sources/${source.id}`, {});
    tell(`${source.name} is taken out.`);
    go(SOURCES);
  };
  return (
    <DialogForm
      title={`Take ${source.name} out`}
      onClose={onClose}
      onSubmit={() => send(remove)}
      act="Take it out"
      busy={busy}
      refused={refused && [refused.message, ...refused.refusal.fields.map((f) => f.message)].join(' ')}
    >
      <p>
        What it told ({linesWords(source) || 'nothing'}) is not looked at any more. Nothing is taken away
        where it is, and past days stay as they were known.
      </p>
    </DialogForm>
  );
}
