import type { ListedSite } from '../../../server/websites/sites/sites.ts';
import { useMay } from '../../desk/account-context.ts';
import { go, setQuery } from '../../desk/location.ts';
import { countWords, dayWords } from '../../desk/words.ts';
import { useRegister } from '../../lists/use-register.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { StageTag } from '../../parts/StageTag.tsx';
import { Failure } from '../../parts/states.tsx';
import { siteLink } from '../links.ts';

export function useSites() {
  return useRegister<ListedSite>('websites', '/api/websites');
}

export function SiteRegister({ chosen }: { readonly chosen: string | undefined }) {
  const mayEdit = useMay('websites.edit');
  const { query, rows, paged } = useSites();
  if (query.isError && !query.data)
    return <Failure error={query.error} onRetry={() => void query.refetch()} />;
  return (
    <RegisterList
      what="sites"
      rows={rows.map((s) => ({
        id: s.host,
        name: s.host,
        detail: detail(s),
        tag: <StageTag state={s.stage.state} />,
        href: siteLink(s.host),
      }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      paged={paged}
      action={mayEdit && <Button onClick={() => setQuery({ new: 'site' }, 'push')}>New</Button>}
      empty={query.isPending ? 'Loading …' : 'Press New to take in the first site.'}
    />
  );
}

function detail(s: ListedSite) {
  if (s.sweeping) return 'being swept now';
  if (!s.sweptAt) return 'never swept';
  if (s.leaks > 0) return `◆ ${countWords(s.leaks, 'tracker runs', 'trackers run')} without permission`;
  if (s.unsorted > 0) return `${countWords(s.unsorted, 'tracker')} not sorted`;
  return `swept ${dayWords(s.sweptAt)}, no leak`;
}
