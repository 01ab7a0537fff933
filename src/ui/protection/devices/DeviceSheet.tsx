import { useQuery } from '@tanstack/react-query';
import { CHANNEL_WORDS } from '../../../core/protection/handling/channel.ts';
import type * as deviceApi from '../../../pages/api/protection/devices/[id]/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { Sentence } from '../../parts/Sentence.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { ACTIVITY } from '../links.ts';
import { useDeviceGroups } from './DevicesSheet.tsx';
import css from '../protection.module.css';

/** One device: whose it is, whether it does what the rules say, and what it can watch. */
export function DeviceSheet({ id }: { readonly id: string }) {
  const device = useQuery({
    queryKey: ['device', id],
    queryFn: () => request<AnswerOf<typeof deviceApi.GET>>('GET', `/api/protection/devices/${id}`),
  });
  const groups = useDeviceGroups();
  const mayLet = useMay('protection.devices');
  const mayReport = useMay('cases.incidents');
  if (device.isError && !device.data)
    return <Failure error={device.error} onRetry={() => void device.refetch()} />;
  if (!device.data) return <Loading what="the device" />;
  const d = device.data;
  const act = async (work: () => Promise<unknown>, done: string) => {
    try {
      await work();
      tell(done);
    } catch (e) {
      tellFailure(e);
    } finally {
      await device.refetch();
    }
  };
  return (
    <>
      <SheetHead
        title={d.name}
        detail={`${d.platform || 'A device'} · let in ${whenWords(d.enrolledAt)}${d.endedAt ? ` · out since ${whenWords(d.endedAt)}` : ''}`}
        actions={
          <>
            <a href={`${ACTIVITY}?device=${id}`}>What was done on it</a>
            {mayReport && (
              <a
                href={`/cases/incidents?new=incident&kind=${encodeURIComponent('lost device')}&device=${id}&title=${encodeURIComponent(`${d.name} was lost`)}`}
              >
                It was lost
              </a>
            )}
            {mayLet && d.endedAt === null && (
              <Button
                onClick={() =>
                  void act(
                    () => request('DELETE', `/api/protection/devices/${id}`),
                    'It is out: its token opens nothing any more.',
                  )
                }
              >
                Put it out
              </Button>
            )}
          </>
        }
      />
      <Sentence label="It is">
        {d.person}’s, in{' '}
        <Slot
          label="Groups of devices"
          words={
            d.groups.map((g) => groups.data?.find((x) => x.id === g)?.name ?? g).join(', ') || 'no group'
          }
          fixed={!mayLet}
          edit={{
            kind: 'many',
            value: d.groups,
            options: (groups.data ?? []).map((g) => ({ value: g.id, words: g.name })),
            set: (to) =>
              void act(
                () =>
                  request('PUT', '/api/protection/devices', {
                    devices: [Number(id)],
                    groups: to.map(Number),
                  }),
                'It takes other rules with its next bundle.',
              ),
          }}
        />
        .
      </Sentence>
      <Sentence label="Stands">
        {d.endedAt
          ? 'out: it tells nothing any more, and takes no rules.'
          : d.behind.length === 0
            ? `✓ in step: it has bundle ${d.bundle ?? '–'}, and was seen ${d.seenAt ? whenWords(d.seenAt) : 'never'}.`
            : `◆ behind: ${d.behind.join('; ')}. Last seen ${d.seenAt ? whenWords(d.seenAt) : 'never'}.`}
      </Sentence>
      <Sentence label="Watches">
        {d.can.length === 0
          ? 'nothing that it told of.'
          : `when somebody ${d.can.map((c) => CHANNEL_WORDS[c]).join(', ')}.`}
      </Sentence>
      {d.trouble && <p className={css['mark']}>◆ It says: {d.trouble}</p>}
    </>
  );
}
