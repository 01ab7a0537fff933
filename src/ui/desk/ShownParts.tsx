import { useState } from 'react';
import { Field } from '../parts/Field.tsx';
import { Matrix, type MatrixChoice } from '../parts/Matrix.tsx';
import { MenuButton } from '../parts/MenuButton.tsx';
import { PeoplePicker } from '../parts/PeoplePicker.tsx';
import { RangeField } from '../parts/RangeField.tsx';
import { ScheduleSlots } from '../parts/ScheduleSlots.tsx';
import { Segments } from '../parts/Segments.tsx';
import { SelectField } from '../parts/SelectField.tsx';
import { Sentence } from '../parts/Sentence.tsx';
import { Shelf } from '../parts/Shelf.tsx';
import { TimeChart } from '../parts/TimeChart.tsx';
import { Tree } from '../parts/Tree.tsx';
import { TreeMap } from '../parts/TreeMap.tsx';
import type { TreeNode } from '../parts/tree-rows.ts';
import type { Schedule } from '../../core/schedule/schedule.ts';
import { tell } from './toasts.ts';
import { countWords, numberWords } from './words.ts';

const PEOPLE = [
  { id: 1, name: 'Ines Abara', title: 'Privacy officer', role: 'officer', why: 'asks for it' },
  { id: 2, name: 'Sanne Holt', title: 'Records', role: 'records manager' },
  { id: 3, name: 'Magnus Reyer', title: 'IT and shares', role: 'access reviewer' },
];
const KINDS = ['Boarding manifest', 'Assistance request', 'Application'].map((name) => ({ key: name, name }));
const DATA = ['Name', 'E-mail', 'Date of birth', 'Health'].map((name) => ({ key: name, name }));
const DAYS = Array.from({ length: 30 }, (_, i) => new Date(Date.UTC(2026, 9, 21 + i)).toISOString());
const RATES = [
  {
    name: 'Denmark',
    points: DAYS.map((at, i) => {
      const value = 52 + 6 * Math.sin(i / 4);
      return { at, value, low: value - 3, high: value + 3 };
    }),
  },
  { name: 'Germany', points: DAYS.map((at, i) => ({ at, value: 38 + 4 * Math.cos(i / 5) })) },
];
const SHARE = {
  id: 'all',
  name: 'All',
  children: [
    {
      id: 'port',
      name: 'Port share',
      children: [
        { id: 'manifests', name: 'Manifests', size: 2317 },
        { id: 'incidents', name: 'Incidents', size: 411 },
        { id: 'lost', name: 'Lost property', size: 120 },
      ],
    },
    { id: 'mail', name: 'Terminal mail', size: 1400 },
    { id: 'crew', name: 'Crew share', children: [{ id: 'rosters', name: 'Rosters', size: 600 }] },
  ],
};
const folder = (id: string): TreeNode => ({
  id,
  name: `Folder ${id.split('/').at(-1) ?? id}`,
  figure: numberWords(1000),
  opens: true,
});

/** A folder of a thousand, each a folder of a thousand, and so on. */
async function loadFolder(id: string): Promise<readonly TreeNode[]> {
  return Array.from({ length: 1000 }, (_, i) => folder(`${id}/${i + 1}`));
}

/** Choosing, looking and planning, for those who build with them. */
export function ShownParts() {
  const [people, setPeople] = useState<readonly number[]>([2]);
  const [days, setDays] = useState({ from: '2026-11-03', to: '2026-11-20' });
  const [segment, setSegment] = useState('leaks');
  const [port, setPort] = useState('Halmsund');
  const [cell, setCell] = useState<MatrixChoice>({ row: 'Boarding manifest', column: 'Health' });
  const [node, setNode] = useState<string>();
  const [area, setArea] = useState('manifests');
  const [schedule, setSchedule] = useState<Schedule | null>({
    every: 'week',
    weekday: 1,
    day: 1,
    at: '03:00',
    zone: 'Europe/Copenhagen',
  });
  return (
    <>
      <h2>Choose</h2>
      <div>
        <RangeField label="When" value={days} onChange={setDays} />{' '}
        <Segments
          label="Show"
          value={segment}
          options={[
            { value: '', words: 'All', count: 42 },
            { value: 'leaks', words: 'Leaks', count: 8 },
          ]}
          onChange={setSegment}
        />{' '}
        <SelectField
          label="Port"
          value={port}
          options={['Halmsund', 'Østervig', 'Kaltenhagen', 'Marrow Quay'].map((w) => ({
            value: w,
            words: w,
          }))}
          onChange={setPort}
        />{' '}
        <MenuButton
          label="More"
          acts={[
            { id: 'copy', words: 'Make a copy of it', act: () => tell('Copied.') },
            { id: 'retire', words: 'Retire it', act: () => tell('Retired.'), why: 'It is not in force.' },
          ]}
        />
      </div>
      <PeoplePicker label="Who is asked" people={PEOPLE} chosen={people} onChange={setPeople} />
      <Field label="What it is for" hint="Left empty, the page’s own title is used.">
        <input />
      </Field>
      <Sentence label="Read">
        the port share{' '}
        <ScheduleSlots
          label="Read by itself"
          schedule={schedule}
          idle="when somebody asks"
          zone="Europe/Copenhagen"
          fixed={false}
          onSet={setSchedule}
        />
      </Sentence>
      <h2>Look</h2>
      <Shelf
        entries={[
          { name: 'Detectors', count: 148, href: '#detectors', chosen: true },
          { name: 'Labelled sets', count: 1, href: '#sets', chosen: false },
        ]}
      />
      <Matrix
        corner="Kind of document"
        label="Kinds of documents and of data"
        rows={KINDS}
        columns={DATA}
        value={(row, column) => (row.length * column.length * 7) % 97}
        chosen={cell}
        onChoose={setCell}
      />
      <Tree
        label="Places"
        roots={Array.from({ length: 1000 }, (_, i) => folder(String(i + 1)))}
        load={loadFolder}
        chosen={node}
        onChoose={(n) => setNode(n.id)}
        height={180}
      />
      <TreeMap
        label="Items by place"
        root={SHARE}
        words={(n) => countWords(n, 'item')}
        chosen={area}
        onChoose={setArea}
      />
      <TimeChart
        label="How many allow something?"
        unit="% of those who chose"
        series={RATES}
        words={(n) => `${Math.round(n)}`}
      />
    </>
  );
}
