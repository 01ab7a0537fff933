import { useMutation } from '@tanstack/react-query';
import type { Account } from '../../../core/accounts/authority.ts';
import { permissionWords } from '../../../core/accounts/roles/permissions.ts';
import { useMay } from '../../desk/account-context.ts';
import { go, setQuery, useDeskLocation } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, dayWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { hookLink } from '../links.ts';
import { NewHook } from './NewHook.tsx';
import { NewToken } from './NewToken.tsx';
import { isInForce, useHooks, useTokens, type Token } from './use-programs.ts';

/** Programs that act for people, and those that are told of what happens. */
export function ProgramsSheet({ account }: { readonly account: Account }) {
  const { query } = useDeskLocation();
  const mayMake = useMay('tokens.edit');
  const maySeeHooks = useMay('programs.read');
  const mayHook = useMay('programs.edit');
  return (
    <>
      <SheetHead
        title="Programs"
        detail="They act with a token, as whoever gave it and within what it was given; webhooks are told of what happens."
        actions={
          <>
            {mayHook && <Button onClick={() => setQuery({ new: 'hook' })}>Tell a webhook …</Button>}
            {mayMake && (
              <Button kind="primary" onClick={() => setQuery({ new: 'token' })}>
                Make a token …
              </Button>
            )}
          </>
        }
      />
      <section aria-label="Tokens">
        <Tokens me={account.id} />
      </section>
      {maySeeHooks && (
        <section aria-label="Webhooks">
          <h2>Webhooks</h2>
          <Hooks />
        </section>
      )}
      {query.get('new') === 'token' && mayMake && <NewToken account={account} />}
      {query.get('new') === 'hook' && mayHook && <NewHook />}
    </>
  );
}

function Tokens({ me }: { readonly me: number }) {
  const tokens = useTokens();
  const mayEnd = useMay('programs.edit');
  const end = useMutation({
    mutationFn: ({ id }: Token) => request('DELETE', `/api/accounts/tokens/${id}`),
    onSuccess: (_done, { name }) => tell(`${name} opens nothing any more.`),
    onError: tellFailure,
  });
  if (tokens.isError) return <Failure error={tokens.error} onRetry={() => void tokens.refetch()} />;
  if (!tokens.data) return <Loading what="tokens" />;
  if (tokens.data.length === 0)
    return (
      <Empty title="No token yet">
        A program that shows one does what you may do, as far as you let it: each has what it may do and an
        end.
      </Empty>
    );
  return (
    <FigureTable
      columns={['Token', 'Acts as', 'It may', 'Until', 'Used', { unseen: 'Acts' }]}
      rows={tokens.data.map((t) => ({
        key: t.id,
        cells: [
          t.name,
          t.accountId === me ? 'you' : t.account,
          <span title={t.actions.map(permissionWords).join(', ')}>{mayWords(t)}</span>,
          untilWords(t),
          t.usedAt ? whenWords(t.usedAt) : 'never',
          isInForce(t) && (t.accountId === me || mayEnd) && (
            <Button aria-label={`End ${t.name}`} disabled={end.isPending} onClick={() => end.mutate(t)}>
              End it
            </Button>
          ),
        ],
      }))}
    />
  );
}

/** The first two by name, the rest by number. */
function mayWords({ actions }: Token): string {
  const named = actions.slice(0, 2).map(permissionWords).join(', ');
  return actions.length <= 2 ? named : `${named} and ${actions.length - 2} more`;
}

function untilWords(token: Token): string {
  if (token.endedAt) return `ended ${whenWords(token.endedAt)}`;
  return isInForce(token) ? dayWords(token.endsAt) : `over since ${dayWords(token.endsAt)}`;
}

function Hooks() {
  const hooks = useHooks(true);
  if (hooks.isError) return <Failure error={hooks.error} onRetry={() => void hooks.refetch()} />;
  if (!hooks.data) return <Loading what="webhooks" />;
  if (hooks.data.hooks.length === 0)
    return (
      <Empty title="No webhook yet">
        One is sent what happens as it is sealed in the ledger, signed, and again until it is taken.
      </Empty>
    );
  return (
    <FigureTable
      columns={['Webhook', 'Where', 'Told of', 'State']}
      rows={hooks.data.hooks.map((h) => ({
        key: h.id,
        cells: [
          <a
            href={hookLink(h.id)}
            onClick={(e) => {
              e.preventDefault();
              go(hookLink(h.id));
            }}
          >
            {h.name}
          </a>,
          new URL(h.url).host,
          h.events.length === 0
            ? 'everything'
            : countWords(h.events.length, 'kind of event', 'kinds of events'),
          h.stoppedAt
            ? `stopped ${whenWords(h.stoppedAt)}`
            : h.paused
              ? `◆ ${h.paused}`
              : '○ told as it happens',
        ],
      }))}
    />
  );
}
