import { useQuery } from '@tanstack/react-query';
import type { ListedSite } from '../../../server/websites/sites/sites.ts';
import { useMay } from '../../desk/account-context.ts';
import { go, setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { countWords, dayWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { StageTag } from '../../parts/StageTag.tsx';
import { Failure } from '../../parts/states.tsx';
import { LIBRARY, siteLink } from '../links.ts';

export function SiteRegister({ chosen }: { readonly chosen: string | undefined }) {
  const mayEdit = useMay('websites.edit');
  const sites = useQuery({
    queryKey: ['websites'],
    queryFn: () => request<ListedSite[]>('GET', '/api/websites'),
  });
  if (sites.isError && !sites.data)
    return <Failure error={sites.error} onRetry={() => void sites.refetch()} />;
  const rows = (sites.data ?? []).map((s) => ({
    id: s.host,
    name: s.host,
    detail: detail(s),
    tag: <StageTag state={s.stage.state} />,
    href: siteLink(s.host),
  }));
  return (
    <RegisterList
      what="sites"
      rows={rows}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      footer={{ name: 'Library of known trackers', href: siteLink(LIBRARY), chosen: chosen === LIBRARY }}
      action={mayEdit && <Button onClick={() => setQuery({ new: 'site' }, 'push')}>New</Button>}
      empty={sites.isPending ? 'Loading …' : 'Press New to take in the first site.'}
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
