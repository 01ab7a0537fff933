import { useQuery } from '@tanstack/react-query';
import type * as accountsApi from '../../pages/api/accounts/index.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import { may, type Account } from '../../core/accounts/authority.ts';
import type { ListedAccount } from '../../server/accounts/account.ts';
import { Desk } from '../desk/Desk.tsx';
import { go, useDeskLocation } from '../desk/location.ts';
import { request } from '../desk/request.ts';
import { whenWords } from '../desk/words.ts';
import { RegisterList } from '../parts/RegisterList.tsx';
import { Failure, Loading } from '../parts/states.tsx';
import { OwnAccountSheet } from './OwnAccountSheet.tsx';
import { PersonSheet } from './PersonSheet.tsx';

/** One's own account; for those who look after accounts, everyone's. */
export function AccountArea({ account }: { readonly account: Account }) {
  const { path } = useDeskLocation();
  const chosen = Number(path[0] ?? account.id);
  return (
    <Desk
      account={account}
      area="account"
      register={may(account, 'accounts.read') ? <People me={account} chosen={chosen} /> : undefined}
      sheet={chosen === account.id ? <OwnAccountSheet account={account} /> : <PersonSheet id={chosen} />}
    />
  );
}

function People({ me, chosen }: { readonly me: Account; readonly chosen: number }) {
  const people = useQuery({
    queryKey: ['accounts'],
    queryFn: () => request<AnswerOf<typeof accountsApi.GET>>('GET', '/api/accounts'),
  });
  if (people.isError && !people.data)
    return <Failure error={people.error} onRetry={() => void people.refetch()} />;
  if (!people.data) return <Loading what="accounts" />;
  return (
    <RegisterList
      what="accounts"
      rows={people.data.map((p) => ({
        id: String(p.id),
        name: p.name,
        detail: `${p.id === me.id ? 'you · ' : ''}${p.role} · ${hereWords(p)}`,
        href: p.id === me.id ? '/account' : `/account/${p.id}`,
      }))}
      chosen={String(chosen)}
      onChoose={(r) => go(r.href)}
      empty="Nobody has an account yet."
    />
  );
}

function hereWords({ disabledAt, seenAt }: ListedAccount): string {
  if (disabledAt) return 'disabled';
  return seenAt ? `here ${whenWords(seenAt)}` : 'not signed in';
}
