import { useState } from 'react';
import type * as peopleApi from '../../../pages/api/websites/preferences/people/index.ts';
import { PERSON_LIST } from '../../../core/websites/preferences/person-list.ts';
import { NewPerson as Fields } from '../../../core/websites/preferences/person-table.ts';
import { plainName } from '../../../core/websites/preferences/preference-page.ts';
import { CHANNEL_WORDS } from '../../../core/websites/preferences/preference-phrases.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { TakenPeople } from '../../../server/websites/preferences/people.ts';
import type { PreferencePerson } from '../../../server/websites/preferences/preference-person.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { sendFile } from '../../holdings/offers.ts';
import { ListFilters } from '../../lists/ListFilters.tsx';
import { useList } from '../../lists/use-list.ts';
import { Button } from '../../parts/Button.tsx';
import { DataTable, type Column } from '../../parts/DataTable.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { Empty } from '../../parts/states.tsx';
import { useEndpointForm } from '../../parts/use-endpoint-form.ts';
import { useSending } from '../../parts/use-sending.ts';
import css from '../websites.module.css';
import { PREFERENCES_API } from './use-preferences.ts';

const COLUMNS: readonly Column<PreferencePerson>[] = [
  {
    key: 'address',
    title: 'Address',
    sorts: true,
    width: '230px',
    cell: (p) => (
      <span className={css['address']} title={p.address}>
        {p.address}
      </span>
    ),
  },
  { key: 'name', title: 'Name', sorts: true, optional: true, cell: (p) => p.name },
  {
    key: 'stands',
    title: 'Stands',
    cell: (p) => (p.stands === 'left' ? '✕ left' : p.stands === 'says yes' ? '✓ says yes' : '○ never asked'),
  },
  {
    key: 'channels',
    title: 'Reached by',
    cell: (p) => p.channels.map(channelName).join(', ') || '–',
  },
  { key: 'topics', title: 'About', optional: true, cell: (p) => p.topics.map(plainName).join(', ') || '–' },
  {
    key: 'saidAt',
    title: 'Last choice',
    sorts: true,
    width: '128px',
    cell: (p) => (p.saidAt ? <time dateTime={p.saidAt}>{whenWords(p.saidAt)}</time> : '–'),
  },
];

export function channelName(code: string): string {
  return (CHANNEL_WORDS as Readonly<Record<string, string>>)[code] ?? code;
}

/** Who may be written to, and how they stand. */
export function PeopleTab() {
  const { query } = useDeskLocation();
  const mayEdit = useMay('preferences.edit');
  const mayExport = useMay('preferences.export');
  const [open, setOpen] = useState<'one' | 'list'>();
  const list = useList(PERSON_LIST);
  const close = () => setOpen(undefined);
  return (
    <>
      {mayEdit && (
        <div className={css['noticeBar']}>
          <Button onClick={() => setOpen('list')}>Take in a list</Button>
          <Button kind="primary" onClick={() => setOpen('one')}>
            Add a person
          </Button>
        </div>
      )}
      <DataTable
        label="People"
        name="people"
        columns={COLUMNS}
        queryKey={['people', list.asked]}
        load={(after) =>
          request<AnswerOf<typeof peopleApi.GET>>(
            'GET',
            `${PREFERENCES_API}/people${queryString({ ...list.asked, after })}`,
          )
        }
        rowKey={(p) => String(p.id)}
        rowName={(p) => `${p.address}, ${p.stands}`}
        opened={query.get('person') ?? undefined}
        onOpen={(p) => setQuery({ person: String(p.id) }, 'push')}
        {...(mayExport ? { exportHref: `${PREFERENCES_API}/people.csv${queryString(list.asked)}` } : {})}
        sort={list.sort}
        onSort={list.onSort}
        filters={<ListFilters list={PERSON_LIST} shown={list} />}
        empty={
          <Empty title={list.wish.text ? `Nobody is called “${list.wish.text}”` : 'Nobody is known here'}>
            {list.wish.text
              ? undefined
              : 'Take in a list of those you write to, or add one. Each gets a link to a page of their own.'}
          </Empty>
        }
      />
      {open === 'one' && <AddPerson onClose={close} />}
      {open === 'list' && <TakeList onClose={close} />}
    </>
  );
}

function AddPerson({ onClose }: { readonly onClose: () => void }) {
  const { form, submit, busy, error, refused } = useEndpointForm(
    Fields as typeof Fields & import('zod').ZodType<Required<PersonFields>, Required<PersonFields>>,
    { address: '', name: '', number: '', language: '' },
    async (person) => {
      const { id } = await request<AnswerOf<typeof peopleApi.POST>>(
        'POST',
        `${PREFERENCES_API}/people`,
        person,
      );
      onClose();
      tell(`${person.address} has a page of their own now.`);
      setQuery({ person: String(id) }, 'push');
    },
  );
  return (
    <DialogForm title="Add a person" onClose={onClose} onSubmit={submit} act="Add them" busy={busy}>
      <Field label="Address" error={error('address') ?? refused}>
        <input {...form.register('address')} autoFocus autoComplete="off" spellCheck={false} />
      </Field>
      <Field label="Name" error={error('name')}>
        <input {...form.register('name')} autoComplete="off" />
      </Field>
      <Field
        label="Number elsewhere"
        hint="As your customer or member system calls them."
        error={error('number')}
      >
        <input {...form.register('number')} autoComplete="off" />
      </Field>
      <Field
        label="Language"
        hint="Its tag, such as da; left empty, their browser’s."
        error={error('language')}
      >
        <input {...form.register('language')} autoComplete="off" spellCheck={false} />
      </Field>
    </DialogForm>
  );
}

interface PersonFields {
  address: string;
  name: string;
  number: string;
  language: string;
}

function TakeList({ onClose }: { readonly onClose: () => void }) {
  const [file, setFile] = useState<File | undefined>();
  const { busy, refused, error, send } = useSending();
  const take = async () => {
    if (!file) return;
    const { added, changed, said, stood } = await request<TakenPeople>(
      'POST',
      `${PREFERENCES_API}/people/list`,
      { upload: await sendFile(file) },
    );
    onClose();
    tell(
      `${countWords(added, 'person', 'people')} added, ${changed} changed, ${countWords(said, 'choice')} taken over${stood > 0 ? `; ${stood} kept what they said themselves` : ''}.`,
    );
  };
  return (
    <DialogForm
      title="Take in a list of people"
      onClose={onClose}
      onSubmit={() => send(take)}
      act="Take it in"
      actBusy="Reading …"
      busy={busy}
      disabled={!file}
      refused={error('upload') ?? refused?.message}
    >
      <Field label="A list in CSV">
        <input type="file" accept=".csv,text/csv" onChange={(e) => setFile(e.target.files?.[0])} />
      </Field>
      {refused?.refusal.fields
        .filter((f) => f.field !== 'upload')
        .map((f) => (
          <p key={f.field + f.message}>
            ◆ {f.field}: {f.message}
          </p>
        ))}
      <p>
        Its headings: <code>address</code>, and where you have them <code>name</code>, <code>number</code>,{' '}
        <code>language</code>, <code>channels</code> and <code>topics</code> (parted by semicolons). Nobody is
        taken out by it, and nobody’s own choice is changed by it.
      </p>
    </DialogForm>
  );
}
