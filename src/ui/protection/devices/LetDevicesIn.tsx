import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type * as enrolmentsApi from '../../../pages/api/protection/devices/enrolments.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { setQuery } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { CopyText } from '../../parts/CopyText.tsx';
import { Dialog } from '../../parts/Dialog.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { SelectField } from '../../parts/SelectField.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { useDeviceGroups } from './DevicesSheet.tsx';

/** A token that lets devices in, good for so many and so long; shown once. */
export function LetDevicesIn() {
  const groups = useDeviceGroups();
  const [group, setGroup] = useState('');
  const [devices, setDevices] = useState('1');
  const [days, setDays] = useState('7');
  const [made, setMade] = useState<AnswerOf<typeof enrolmentsApi.POST>>();
  const { busy, refused, error, send } = useSending();
  const close = () => setQuery({ new: null });
  const open = useQuery({
    queryKey: ['device-enrolments'],
    queryFn: () => request<AnswerOf<typeof enrolmentsApi.GET>>('GET', '/api/protection/devices/enrolments'),
  });
  const takeBack = async (id: number) => {
    try {
      await request('DELETE', `/api/protection/devices/enrolments${queryString({ id })}`);
      tell('It lets nobody in any more.');
    } catch (e) {
      tellFailure(e);
    } finally {
      await open.refetch();
    }
  };
  if (made) {
    const file = JSON.stringify(
      { desk: window.location.origin, token: made.token, until: made.until },
      null,
      2,
    );
    return (
      <Dialog title="Lets devices in" onClose={close}>
        <p>Shown once; it is good until {whenWords(made.until)}.</p>
        <p>The token:</p>
        <CopyText text={made.token} label="The token" />
        <p>As a link that an agent opens:</p>
        <CopyText text={agentLink(made.token)} label="The link" />
        <p>
          <a href={`data:application/json,${encodeURIComponent(file)}`} download="yare-device.json">
            As a file for many devices
          </a>
        </p>
      </Dialog>
    );
  }
  return (
    <DialogForm
      title="Let devices in"
      onClose={close}
      onSubmit={() =>
        send(async () =>
          setMade(
            await request<AnswerOf<typeof enrolmentsApi.POST>>('POST', '/api/protection/devices/enrolments', {
              groups: group === '' ? [] : [Number(group)],
              devices: Number(devices),
              days: Number(days),
            }),
          ),
        )
      }
      act="Make a token"
      busy={busy}
      refused={error('devices', 'days') ? undefined : refused?.message}
    >
      <Field label="How many devices" error={error('devices')}>
        <input
          autoFocus
          type="number"
          min={1}
          max={5000}
          value={devices}
          onChange={(e) => setDevices(e.target.value)}
        />
      </Field>
      <Field label="For how many days" error={error('days')}>
        <input type="number" min={1} max={90} value={days} onChange={(e) => setDays(e.target.value)} />
      </Field>
      <SelectField
        label="They come into"
        value={group}
        options={[
          { value: '', words: 'no group' },
          ...(groups.data ?? []).map((g) => ({ value: g.id, words: g.name })),
        ]}
        onChange={setGroup}
      />
      {(open.data ?? []).map((e) => (
        <p key={e.id}>
          Open: {countWords(e.left, 'device')} until {whenWords(e.until)}
          {e.madeBy && `, by ${e.madeBy}`}{' '}
          <Button
            aria-label={`Take back the token of ${whenWords(e.until)}`}
            onClick={() => void takeBack(e.id)}
          >
            Take it back
          </Button>
        </p>
      ))}
    </DialogForm>
  );
}

function agentLink(token: string): string {
  return `yare-device:enrol${queryString({ desk: window.location.origin, token })}`;
}
