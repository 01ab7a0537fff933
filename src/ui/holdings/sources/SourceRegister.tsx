import { SOURCE_KINDS } from '../../../core/holdings/sources/source.ts';
import { useAccount, useMay } from '../../desk/account-context.ts';
import { go, setQuery } from '../../desk/location.ts';
import { countWords, dayWords, numberWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { Failure } from '../../parts/states.tsx';
import { useListings } from '../listings/use-listings.ts';
import { listingLink, sourceLink, systemLink } from '../links.ts';
import { useSources, useSystems } from './use-sources.ts';

/** Systems, and the sources where their data lies. */
export function SourceRegister({ chosen }: { readonly chosen: string }) {
  const systems = useSystems();
  const sources = useSources();
  const listings = useListings(useAccount().scope?.['source'] === undefined);
  const mayEdit = useMay('holdings.sources');
  if (sources.isError && !sources.data)
    return <Failure error={sources.error} onRetry={() => void sources.refetch()} />;
  return (
    <RegisterList
      what="systems and sources"
      rows={[
        ...(systems.data?.rows ?? []).map((s) => ({
          id: `systems/${s.id}`,
          name: s.name,
          detail: s.steward
            ? `${s.steward} · ${countWords(s.sources, 'source')}`
            : `◆ no steward · ${countWords(s.sources, 'source')}`,
          href: systemLink(s.id),
          group: 'Systems',
        })),
        ...(sources.data?.rows ?? []).map((s) => ({
          id: `sources/${s.id}`,
          name: s.name,
          detail:
            s.health && !s.health.ok
              ? '◆ could not be read'
              : `${SOURCE_KINDS[s.kind]} · ${s.readAt ? `read ${dayWords(s.readAt)}` : 'never read'}`,
          href: sourceLink(s.id),
          group: 'Sources',
        })),
        ...(listings.data?.rows ?? []).map((l) => ({
          id: `listings/${l.id}`,
          name: l.name,
          detail:
            l.health && !l.health.ok
              ? '◆ could not be asked'
              : `${countWords(l.stores, 'store')} · ${numberWords(l.open)} to decide`,
          href: listingLink(l.id),
          group: 'Listings',
        })),
      ]}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      action={mayEdit && <Button onClick={() => setQuery({ new: 'source' }, 'push')}>New</Button>}
      empty={sources.isPending ? 'Loading …' : 'Press New to take in the first source.'}
    />
  );
}
