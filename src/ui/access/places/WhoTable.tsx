import { useState } from 'react';
import type * as whoApi from '../../../pages/api/access/places/[key]/who.ts';
import { WAY_KINDS } from '../../../core/access/views/people-at.ts';
import { dayText } from '../../../core/text/day.ts';
import type { PersonAt } from '../../../server/access/index/place-answers.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { Button } from '../../parts/Button.tsx';
import { DataTable, type Column } from '../../parts/DataTable.tsx';
import { SelectField } from '../../parts/SelectField.tsx';
import { Empty } from '../../parts/states.tsx';
import { personLink } from '../links.ts';
import { usePerson } from '../use-access.ts';
import { REACH_COLUMNS } from '../reach-columns.tsx';
import { AlsoAs, ReachTools } from '../ReachTools.tsx';
import css from '../access.module.css';

const COLUMNS: readonly Column<PersonAt>[] = [
  {
    key: 'person',
    title: 'Person',
    width: '150px',
    cell: (r) => <a href={personLink(r.key)}>{r.guest ? `guest: ${r.name}` : r.name}</a>,
  },
  {
    key: 'work',
    title: 'Work',
    width: '130px',
    optional: true,
    cell: (r) =>
      r.left === null ? (
        <span className={css['cut']}>{r.work}</span>
      ) : (
        <span className={css['mark']}>◆ left {dayText(r.left)}</span>
      ),
  },
  ...REACH_COLUMNS,
];

/** Only who reaches it through one group. */
function Through({ group }: { readonly group: string }) {
  const { data } = usePerson(group);
  const words = `through ${data?.name ?? 'one group'}`;
  return (
    <Button
      kind="quiet"
      aria-label={`Only ${words}: show all ways again`}
      onClick={() => setQuery({ via: null })}
    >
      {words} ×
    </Button>
  );
}

/** Everybody who reaches a place, the strongest first; the one that is opened is explained beside. */
export function WhoTable({ place, on }: { readonly place: string; readonly on: string | undefined }) {
  const { query } = useDeskLocation();
  const [text, setText] = useState('');
  const asked = {
    text: text.trim() || undefined,
    on,
    strength: query.get('strength') ?? undefined,
    way: query.get('way') ?? undefined,
    via: query.get('via') ?? undefined,
  };
  const path = `/api/access/places/${place}`;
  return (
    <>
      <DataTable
        label="Who reaches it"
        name="access-who"
        columns={COLUMNS}
        queryKey={['access-who', place, asked]}
        load={(after) =>
          request<AnswerOf<typeof whoApi.GET>>('GET', `${path}/who${queryString({ ...asked, after })}`)
        }
        rowKey={(r) => r.key}
        rowName={(r) => `${r.name}, ${r.strength}`}
        opened={query.get('person') ?? undefined}
        onOpen={(r) => setQuery({ person: r.key })}
        exportHref={`${path}/export${queryString({ ...asked, as: 'csv' })}`}
        filters={
          <ReachTools what="people" text={text} onText={setText} strength={asked.strength}>
            <SelectField
              label="Way"
              value={asked.way ?? ''}
              options={[
                { value: '', words: 'any way' },
                ...WAY_KINDS.map((w) => ({ value: w, words: w === 'direct' ? 'by name' : w })),
              ]}
              onChange={(way) => setQuery({ way })}
            />
            {asked.via !== undefined && <Through group={asked.via} />}
          </ReachTools>
        }
        empty={
          <Empty title="Nobody">
            {Object.values(asked).some((v) => v !== undefined)
              ? 'Nobody reaches it in this way.'
              : 'Nobody who is known reaches it.'}
          </Empty>
        }
      />
      <AlsoAs path={path} asked={asked} />
    </>
  );
}
