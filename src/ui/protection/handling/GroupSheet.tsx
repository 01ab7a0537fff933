import { useQuery } from '@tanstack/react-query';
import { useRef } from 'react';
import { memberFault, MEMBER_WORDS, type NamedGroup } from '../../../core/protection/handling/named-group.ts';
import { linesOf } from '../../../core/rules/sentence.ts';
import type * as groupApi from '../../../pages/api/protection/groups/[id]/index.ts';
import type * as membersApi from '../../../pages/api/protection/groups/[id]/members.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useMay } from '../../desk/account-context.ts';
import { go } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords } from '../../desk/words.ts';
import { sendFile } from '../../holdings/offers.ts';
import { Button } from '../../parts/Button.tsx';
import { Sentence } from '../../parts/Sentence.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { StageTag } from '../../parts/StageTag.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { NameSlot } from '../../rules/NameSlot.tsx';
import { usePlainObject } from '../../rules/use-plain-object.ts';
import { GROUPS, handlingLink } from '../links.ts';
import css from '../protection.module.css';

const SHOWN = 400;

/** Things of one kind that rules name together, and the rules that do. */
export function GroupSheet({ id }: { readonly id: string }) {
  const { query, save } = usePlainObject<NamedGroup>('named group', id);
  const users = useQuery({
    queryKey: ['named-group-users', id],
    queryFn: () => request<AnswerOf<typeof groupApi.GET>>('GET', `/api/protection/groups/${id}`),
  });
  const fixed = !useMay('protection.edit');
  if (query.isError && !query.data)
    return <Failure error={query.error} onRetry={() => void query.refetch()} />;
  if (!query.data) return <Loading what="the group" />;
  const { content } = query.data;
  const set = (change: Partial<NamedGroup>) =>
    void save({ ...content, ...change }, 'Saved; devices take it with their next rules.');
  const remove = async () => {
    try {
      await request('DELETE', `/api/protection/groups/${id}`);
      tell('Removed.');
      go(GROUPS);
    } catch (e) {
      tellFailure(e);
    }
  };
  const check = (text: string) =>
    linesOf(text)
      .map((m) => memberFault(content.kind, m))
      .find((fault) => fault !== undefined) ?? '';
  const rules = users.data?.rules ?? [];
  return (
    <>
      <SheetHead
        title={<NameSlot name={content.name} set={(name) => set({ name })} fixed={fixed} error={undefined} />}
        detail={`A group of ${content.kind} · ${countWords(content.members.length, 'member')}`}
        actions={
          !fixed && (
            <>
              <TakeMembers id={id} />
              {users.data && rules.length === 0 && <Button onClick={() => void remove()}>Remove</Button>}
            </>
          )
        }
      />
      <Sentence label="They are">
        <Slot
          label="Whether it is ours"
          words={content.ours ? 'ours: what goes there does not leave us' : 'not ours'}
          fixed={fixed}
          edit={{
            kind: 'choice',
            value: content.ours ? 'yes' : 'no',
            options: [
              { value: 'yes', words: 'ours', detail: 'what goes there does not leave us' },
              { value: 'no', words: 'not ours' },
            ],
            set: (v) => set({ ours: v === 'yes' }),
          }}
        />
        .
      </Sentence>
      <Sentence label="Members">
        <Slot
          label="Members"
          words={
            content.members.length === 0
              ? 'none yet'
              : content.members.length > 6
                ? `${content.members.slice(0, 4).join(', ')} and ${content.members.length - 4} more`
                : content.members.join(', ')
          }
          fixed={fixed || content.members.length > SHOWN}
          edit={{
            kind: 'text',
            long: true,
            most: 400_000,
            value: content.members.join('\n'),
            hint: `One a line: ${MEMBER_WORDS[content.kind]}.`,
            check,
            set: (text) => set({ members: linesOf(text) }),
          }}
        />
      </Sentence>
      <h2 className={css['heading']}>Used by</h2>
      {users.isError ? (
        <Failure error={users.error} onRetry={() => void users.refetch()} />
      ) : rules.length === 0 ? (
        <p className={css['note']}>No handling rule names it.</p>
      ) : (
        <ul>
          {rules.map((r) => (
            <li key={r.id}>
              <a href={handlingLink(r.id)}>{r.name}</a> <StageTag state={r.stage.state} />
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

/** Members from a CSV with the heading `member`, beside those there are. */
function TakeMembers({ id }: { readonly id: string }) {
  const input = useRef<HTMLInputElement>(null);
  const take = async (file: File | undefined) => {
    if (!file) return;
    try {
      const { members } = await request<AnswerOf<typeof membersApi.POST>>(
        'POST',
        `/api/protection/groups/${id}/members`,
        { upload: await sendFile(file), beside: true },
      );
      tell(`It has ${countWords(members, 'member')} now.`);
    } catch (e) {
      tellFailure(e);
    }
  };
  return (
    <>
      <Button onClick={() => input.current?.click()}>Take from a CSV …</Button>
      <input
        ref={input}
        type="file"
        accept=".csv,text/csv"
        aria-label="CSV with a column “member”"
        hidden
        onChange={(e) => {
          void take(e.target.files?.[0]);
          e.target.value = '';
        }}
      />
    </>
  );
}
