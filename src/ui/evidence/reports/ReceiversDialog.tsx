import { useState } from 'react';
import type { Report } from '../../../core/evidence/reports/report.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { PeoplePicker } from '../../parts/PeoplePicker.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { useSubjects } from './use-reports.ts';

/** Who is told when a report is ready. */
export function ReceiversDialog({
  report,
  addresses: known,
  onSave,
  onClose,
}: {
  readonly report: Report;
  /** Of people without an account; `null` for whoever may not send to them. */
  readonly addresses: readonly string[] | null;
  readonly onSave: (next: Report, addresses: readonly string[] | null) => Promise<void>;
  readonly onClose: () => void;
}) {
  const people = useSubjects().data?.people ?? [];
  const [chosen, setChosen] = useState<readonly number[]>(report.people);
  const [addresses, setAddresses] = useState((known ?? []).join('\n'));
  const [days, setDays] = useState(String(report.keepDays));
  const { busy, refused, send } = useSending();
  const all = addresses.split(/[\s,;]+/).filter(Boolean);
  const wrong = all.find((a) => !/^[^@\s]+@[^@\s]+$/.test(a));
  const wrongDays =
    /^\d{1,4}$/.test(days) && Number(days) >= 1 && Number(days) <= 1100 ? undefined : 'From 1 to 1,100';
  return (
    <DialogForm
      title="Who is told when it is ready"
      onClose={onClose}
      onSubmit={async () => {
        if (wrong || wrongDays) return;
        await send(async () => {
          await onSave({ ...report, people: [...chosen], keepDays: Number(days) }, known && all);
          onClose();
        });
      }}
      act="Keep it"
      busy={busy}
      refused={refused?.message}
    >
      <PeoplePicker
        label="People"
        people={people.map((p) => ({ ...p, title: '', role: '' }))}
        chosen={chosen}
        onChange={setChosen}
      />
      {known && (
        <Field
          label="Addresses of others"
          hint="One a line. They fetch it by an address of its own, until it is let go."
          error={wrong && `${wrong} is no address`}
        >
          <textarea rows={2} value={addresses} onChange={(e) => setAddresses(e.target.value)} />
        </Field>
      )}
      <Field label="For how many days it can be fetched" error={wrongDays}>
        <input inputMode="numeric" value={days} onChange={(e) => setDays(e.target.value)} />
      </Field>
    </DialogForm>
  );
}
