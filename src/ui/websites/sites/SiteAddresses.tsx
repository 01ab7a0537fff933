import { useQuery } from '@tanstack/react-query';
import type * as addressesApi from '../../../pages/api/websites/[host]/addresses.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useMay } from '../../desk/account-context.ts';
import { go } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { siteLink } from '../links.ts';
import shared from '../websites.module.css';

/** Where the site stands, where else, and whether it is still looked after; what it has stays with it. */
export function SiteAddresses({ host }: { readonly host: string }) {
  const mayEdit = useMay('websites.edit');
  const mayRetire = useMay('websites.put-in-force');
  const path = `/api${siteLink(host)}/addresses`;
  const addresses = useQuery({
    queryKey: ['site-addresses', host],
    queryFn: () => request<AnswerOf<typeof addressesApi.GET>>('GET', path),
  });
  if (!addresses.data) return null;
  const { alsoAt, firstHost, retiredAt } = addresses.data;
  const act = async (work: () => Promise<unknown>, words: string) => {
    try {
      await work();
      tell(words);
    } catch (e) {
      tellFailure(e);
    } finally {
      await addresses.refetch();
    }
  };
  const move = (address: string) =>
    act(async () => {
      const moved = await request<AnswerOf<typeof addressesApi.POST>>('POST', path, { address });
      go(`${siteLink(moved.host)}?tab=install`, 'replace');
    }, 'Moved. Its notice, decisions, sweeps and records came along.');
  return (
    <>
      <h2 className={shared['h2']}>Its addresses</h2>
      <p className={shared['sentence']}>
        It stands at{' '}
        <Slot
          label="Address of the site"
          words={host}
          fixed={!mayEdit}
          edit={{
            kind: 'text',
            most: 2000,
            value: host,
            hint: 'Its new address is asked first; notice, decisions, sweeps and records come along',
            set: (address) => void (address.trim() !== host && move(address.trim())),
          }}
        />
        {firstHost && firstHost !== host && `, at first ${firstHost}`}; answers are taken from{' '}
        <Slot
          label="Other addresses of the site"
          words={alsoAt.join(', ') || 'no other address'}
          fixed={!mayEdit}
          edit={{
            kind: 'text',
            most: 2000,
            value: alsoAt.join(' '),
            hint: 'Hosts, with a space between them',
            set: (text) =>
              void act(
                () => request('PUT', path, { alsoAt: text.split(/[\s,]+/).filter(Boolean), saw: alsoAt }),
                'Answers are taken from there, too.',
              ),
          }}
        />
        .
      </p>
      {retiredAt && (
        <p className={shared['dim']}>
          ○ Retired {whenWords(retiredAt)}: visitors see no notice, and what is marked stays held. Records
          stay as long as the log keeps them.
        </p>
      )}
      {mayRetire && (
        <Button
          onClick={() =>
            void act(
              () => request('PATCH', path, { retired: retiredAt === null }),
              retiredAt ? 'Taken up again.' : 'Retired. It can be taken up again.',
            )
          }
        >
          {retiredAt ? 'Take the site up again' : 'Retire the site'}
        </Button>
      )}
    </>
  );
}
