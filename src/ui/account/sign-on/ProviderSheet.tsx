import { useState } from 'react';
import {
  EMAIL_WORDS,
  NEEDS_WORDS,
  NEWCOMER_WORDS,
  type ProviderContent,
} from '../../../core/accounts/sign-on/provider.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, dayWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { CopyText } from '../../parts/CopyText.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { Sentence } from '../../parts/Sentence.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { ShownOnce } from '../../parts/ShownOnce.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { usePlainObject } from '../../rules/use-plain-object.ts';
import { personLink } from '../links.ts';
import { useRoles } from '../roles/use-roles.ts';
import { useProvider, useProviders } from './use-providers.ts';
import css from '../account.module.css';

/** A provider: what is done with those who come from it, what its groups give, and whether it keeps accounts. */
export function ProviderSheet({ id }: { readonly id: number }) {
  const mayEdit = useMay('accounts.edit');
  const provider = useProvider(id);
  const [asks, setAsks] = useState<'secret' | 'keeping' | undefined>();
  if (provider.isError && !provider.data)
    return <Failure error={provider.error} onRetry={() => void provider.refetch()} />;
  if (!provider.data) return <Loading what="the provider" />;
  const { content, issuer, stoppedAt, people } = provider.data;
  const stop = async (stopped: boolean) => {
    try {
      await request('PATCH', `/api/accounts/providers/${id}`, { stopped });
      tell(stopped ? `${content.name} lets nobody in any more.` : `${content.name} lets people in again.`, {
        undo: stopped ? () => stop(false) : undefined,
      });
    } catch (e) {
      tellFailure(e);
    }
  };
  return (
    <div className={css['sheet']}>
      <SheetHead
        title={content.name}
        detail={[
          issuer,
          `${countWords(people, 'person', 'people')} signed on`,
          stoppedAt && `stopped ${whenWords(stoppedAt)}`,
        ]
          .filter(Boolean)
          .join(' · ')}
        actions={
          mayEdit && (
            <>
              {!stoppedAt && (
                <Button onClick={() => location.assign(`/sign-on/start?provider=${id}&try=yes`)}>
                  Try it
                </Button>
              )}
              <Button onClick={() => setAsks('secret')}>Another secret …</Button>
              <Button onClick={() => void stop(stoppedAt === null)}>
                {stoppedAt ? 'Take it in use' : 'Stop it'}
              </Button>
            </>
          )
        }
      />
      <h2>Who is let in</h2>
      <Rules id={id} fixed={!mayEdit} />
      <h2>What its groups give</h2>
      <Groups id={id} fixed={!mayEdit} known={provider.data.groups} />
      <h2>Keeping accounts</h2>
      <Keeping of={provider.data} onBegin={() => setAsks('keeping')} fixed={!mayEdit} />
      {asks === 'secret' && <SecretDialog id={id} onClose={() => setAsks(undefined)} />}
      {asks === 'keeping' && <KeepingDialog id={id} onClose={() => setAsks(undefined)} />}
    </div>
  );
}

function Rules({ id, fixed }: { readonly id: number; readonly fixed: boolean }) {
  const object = usePlainObject<ProviderContent>('provider', id);
  if (!object.query.data) return <Loading what="what is done" />;
  const { content } = object.query.data;
  const set = (more: Partial<ProviderContent>) =>
    void object.save({ ...content, ...more }, 'It holds from now on.');
  const choice = <K extends 'newcomers' | 'emails' | 'needs'>(
    part: K,
    label: string,
    words: Readonly<Record<ProviderContent[K], string>>,
  ) => (
    <Slot
      label={label}
      words={words[content[part]]}
      fixed={fixed}
      edit={{
        kind: 'choice',
        value: content[part],
        options: Object.entries<string>(words).map(([value, w]) => ({ value, words: w })),
        set: (value) => set({ [part]: value }),
      }}
    />
  );
  const text = (part: 'name' | 'clientId' | 'groupsClaim', label: string, most: number) => (
    <Slot
      label={label}
      words={content[part]}
      fixed={fixed}
      edit={{ kind: 'text', most, value: content[part], set: (value) => set({ [part]: value }) }}
    />
  );
  return (
    <>
      <Sentence label="Is">
        called {text('name', 'Name', 120)}, and knows this desk as {text('clientId', 'Client id', 300)}.
      </Sentence>
      <Sentence label="Lets in">
        {choice('needs', 'Who is let in', NEEDS_WORDS)}; an account here is found by{' '}
        {choice('emails', 'Matched by', EMAIL_WORDS)}.
      </Sentence>
      <Sentence label="Strangers">
        whoever has no account {choice('newcomers', 'Whoever has no account', NEWCOMER_WORDS)}.
      </Sentence>
      <Sentence label="Groups">
        are read from the claim {text('groupsClaim', 'Claim of groups', 100)} at each sign-on, but for those
        that it keeps.
      </Sentence>
    </>
  );
}

interface KnownGroup {
  readonly id: number;
  readonly name: string;
  readonly kept: boolean;
  readonly people: readonly { readonly id: number; readonly name: string }[];
}

function Groups({
  id,
  fixed,
  known,
}: {
  readonly id: number;
  readonly fixed: boolean;
  readonly known: readonly KnownGroup[];
}) {
  const object = usePlainObject<ProviderContent>('provider', id);
  const roles = useRoles().data?.roles ?? [];
  if (!object.query.data) return <Loading what="what groups give" />;
  const { content } = object.query.data;
  const name = (role: string) => roles.find((r) => r.id === role)?.name ?? role;
  const words = (ids: readonly string[]) => ids.map(name).join(', ') || 'nothing';
  const set = (group: string, ids: readonly string[] | undefined) => {
    const groups = Object.fromEntries(
      Object.entries({ ...content.groups, [group]: ids }).filter(
        (e): e is [string, string[]] => e[1] !== undefined,
      ),
    );
    void object.save(
      { ...content, groups },
      ids === undefined ? `${group} is not looked at any more.` : `${group} gives ${words(ids)} from now on.`,
    );
  };
  const names = [...new Set([...Object.keys(content.groups), ...known.map((g) => g.name)])].sort((a, b) =>
    a.localeCompare(b),
  );
  return (
    <>
      {names.length > 0 && (
        <FigureTable
          columns={['Group', 'Gives', 'Who is in it', { unseen: 'Acts' }]}
          rows={names.map((group) => {
            const ids = content.groups[group];
            const told = known.find((g) => g.name === group);
            return {
              key: group,
              cells: [
                group,
                <Slot
                  label={`${group} gives`}
                  words={words(ids ?? [])}
                  fixed={fixed}
                  edit={{
                    kind: 'many',
                    value: ids ?? [],
                    options: roles
                      .filter((r) => r.state === 'in force' || ids?.includes(r.id))
                      .map((r) => ({ value: r.id, words: r.name, detail: `${r.allows} permissions` })),
                    set: (next) => set(group, next.toSorted()),
                  }}
                />,
                <PeopleWords group={told} />,
                !fixed && ids && !told && (
                  <Button kind="quiet" aria-label={`Take out ${group}`} onClick={() => set(group, undefined)}>
                    Take out
                  </Button>
                ),
              ],
            };
          })}
        />
      )}
      {!fixed && (
        <Sentence label="And">
          <Slot
            label="Another group"
            words="another group …"
            edit={{
              kind: 'text',
              most: 255,
              value: '',
              set: (group) => group.trim() !== '' && set(group.trim(), content.groups[group.trim()] ?? []),
              hint: 'As the provider names it, letter for letter.',
            }}
          />
        </Sentence>
      )}
    </>
  );
}

function PeopleWords({ group }: { readonly group: KnownGroup | undefined }) {
  if (!group) return <span className={css['dim']}>not told of yet</span>;
  return (
    <>
      {group.people.slice(0, 5).map((p, i) => (
        <span key={p.id}>
          {i > 0 && ', '}
          <a href={personLink(p.id)}>{p.name}</a>
        </span>
      ))}
      {group.people.length > 5 && ` and ${group.people.length - 5} more`}
      {group.people.length === 0 && 'nobody'}
      {group.kept && <span className={css['dim']}> · kept</span>}
    </>
  );
}

function Keeping({
  of: { keeping, kept, id, stoppedAt },
  fixed,
  onBegin,
}: {
  readonly of: NonNullable<ReturnType<typeof useProvider>['data']>;
  readonly fixed: boolean;
  readonly onBegin: () => void;
}) {
  const scim = useProviders().data?.scim ?? '';
  const end = async () => {
    try {
      await request('DELETE', `/api/accounts/providers/${id}/keeping`);
      tell('It keeps accounts no more; those it kept stay as they are.');
    } catch (e) {
      tellFailure(e);
    }
  };
  return (
    <>
      <p className={css['quiet']}>
        {keeping
          ? `It makes, changes and disables accounts by SCIM 2.0: ${countWords(kept, 'account')} so far, ${keeping.usedAt ? `last asked ${whenWords(keeping.usedAt)}` : 'not asked yet'}. Its token ends on ${dayWords(keeping.endsAt)}.`
          : 'It can make, change and disable accounts and say who is in which group, by SCIM 2.0, as people come and go there.'}
      </p>
      {keeping && <CopyText label="Where it is reached" text={scim} />}
      {!fixed && stoppedAt === null && (
        <div className={css['row']}>
          <Button onClick={onBegin}>{keeping ? 'Another token …' : 'Let it keep accounts …'}</Button>
          {keeping && <Button onClick={() => void end()}>End it</Button>}
        </div>
      )}
    </>
  );
}

function SecretDialog({ id, onClose }: { readonly id: number; readonly onClose: () => void }) {
  const [clientSecret, setSecret] = useState('');
  const { busy, refused, error, send } = useSending();
  return (
    <DialogForm
      title="Another client secret"
      act="Use it"
      busy={busy}
      refused={error('clientSecret') ? undefined : refused?.message}
      onClose={onClose}
      onSubmit={() =>
        send(async () => {
          await request('PATCH', `/api/accounts/providers/${id}`, { clientSecret });
          tell('It is used from now on. Try it, to see that it is right.');
          onClose();
        })
      }
    >
      <Field label="Client secret" error={error('clientSecret')}>
        <input
          type="password"
          autoFocus
          autoComplete="off"
          maxLength={500}
          value={clientSecret}
          onChange={(e) => setSecret(e.target.value)}
        />
      </Field>
    </DialogForm>
  );
}

function KeepingDialog({ id, onClose }: { readonly id: number; readonly onClose: () => void }) {
  const scim = useProviders().data?.scim ?? '';
  const [days, setDays] = useState(365);
  const [token, setToken] = useState('');
  const { busy, refused, error, send } = useSending();
  const make = async () =>
    setToken(
      (await request<{ token: string }>('POST', `/api/accounts/providers/${id}/keeping`, { days })).token,
    );
  return (
    <DialogForm
      title="Let it keep accounts"
      act={token ? 'It is kept' : 'Make a token'}
      busy={busy}
      refused={error('days') ? undefined : refused?.message}
      onClose={onClose}
      onSubmit={() => (token ? onClose() : send(make))}
    >
      {token ? (
        <>
          <p>At the provider, type where it reaches this desk, and the token:</p>
          <CopyText label="Where it is reached" text={scim} />
          <ShownOnce label="Token" text={token} />
        </>
      ) : (
        <>
          <p>
            Whoever has the token makes and disables accounts here, and says who is in which group. One made
            before opens nothing any more; the last officer cannot be disabled by it.
          </p>
          <Field label="Days until it ends" error={error('days')}>
            <input
              type="number"
              autoFocus
              min={1}
              max={730}
              value={days}
              onChange={(e) => setDays(Number(e.target.value))}
            />
          </Field>
        </>
      )}
    </DialogForm>
  );
}
