// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { afterEach, beforeAll, describe, expect, it, vi } from 'vitest';
import { standInForLayout } from '../../../tests/no-layout.ts';
import { ChoiceEditor } from './ChoiceEditor.tsx';
import { ChoiceField } from './ChoiceField.tsx';
import { FigureTable } from './FigureTable.tsx';
import { FlowMap } from './FlowMap.tsx';
import { Matrix, type MatrixChoice } from './Matrix.tsx';
import { MenuButton } from './MenuButton.tsx';
import { PeoplePicker } from './PeoplePicker.tsx';
import { RangeField, rangeWords } from './RangeField.tsx';
import { blocksOf } from './RichTextArea.tsx';
import { SelectField } from './SelectField.tsx';
import { TimeChart } from './TimeChart.tsx';
import { Tree } from './Tree.tsx';
import { TreeMap } from './TreeMap.tsx';
import { treeRows, type TreeNode } from './tree-rows.ts';

beforeAll(standInForLayout);
afterEach(cleanup);

const node = (id: string, opens = false): TreeNode => ({ id, name: `Folder ${id}`, opens });

describe('the lines of a tree', () => {
  it('are those that are open, with their places', () => {
    const rows = treeRows(
      [node('a', true), node('b')],
      new Set(['a', 'a1']),
      new Map([['a', [node('a1', true), node('a2')]]]),
    );
    expect(rows.map((r) => [r.node.id, r.level, r.place, r.among, r.waiting])).toEqual([
      ['a', 1, 1, 2, undefined],
      ['a1', 2, 1, 2, 'loading'],
      ['a2', 2, 2, 2, undefined],
      ['b', 1, 2, 2, undefined],
    ]);
  });

  it('go deeper than any stack', () => {
    const depth = 50_000;
    const open = new Set(Array.from({ length: depth }, (_, i) => String(i)));
    const children = new Map([...open].map((id) => [id, [node(String(Number(id) + 1), true)]]));
    expect(treeRows([node('0', true)], open, children)).toHaveLength(depth + 1);
  });
});

describe('a tree', () => {
  function Shown({ load }: { readonly load: (id: string) => Promise<readonly TreeNode[]> }) {
    const [chosen, setChosen] = useState<string>();
    return (
      <Tree
        label="Places"
        roots={[node('a', true), node('b')]}
        load={load}
        chosen={chosen}
        onChoose={(n) => setChosen(n.id)}
      />
    );
  }
  const items = () => screen.getAllByRole('treeitem').map((i) => i.textContent);

  it('is opened and chosen from by the keyboard, and loads what is opened once', async () => {
    const user = userEvent.setup();
    const load = vi.fn(async (id: string) => [node(`${id}1`), node(`${id}2`)]);
    render(<Shown load={load} />);
    screen.getByRole('tree').focus();
    await user.keyboard('{ArrowRight}');
    await waitFor(() => expect(items()).toEqual(['Folder a', 'Folder a1', 'Folder a2', 'Folder b']));
    await user.keyboard('{ArrowRight}{ArrowDown}{Enter}');
    expect(screen.getByRole('treeitem', { selected: true }).textContent).toBe('Folder a2');
    await user.keyboard('{ArrowLeft}{ArrowLeft}');
    expect(items()).toEqual(['Folder a', 'Folder b']);
    await user.keyboard('{ArrowRight}');
    expect(items()).toHaveLength(4);
    expect(load).toHaveBeenCalledTimes(1);
    await user.keyboard('{End}{Enter}');
    expect(screen.getByRole('treeitem', { selected: true }).textContent).toBe('Folder b');
  });

  it('opens the way down to what is chosen by itself, once, and frames what a node has of its own', async () => {
    const user = userEvent.setup();
    const load = vi.fn(async (id: string): Promise<readonly TreeNode[]> => [
      { ...node(`${id}1`, true), tag: { words: 'own' }, figure: '3' },
      { ...node(`${id}2`), tag: { words: 'adds', broken: true }, dim: true },
    ]);
    const shown = (reveal: readonly string[]) => (
      <Tree
        label="Places"
        roots={[node('a', true)]}
        load={load}
        chosen="a11"
        onChoose={() => {}}
        reveal={reveal}
      />
    );
    const { rerender } = render(shown([]));
    rerender(shown(['a', 'a1']));
    await waitFor(() => expect(items()).toContain('Folder a113own'));
    expect(items()).toContain('Folder a2adds');
    expect(screen.getByRole('treeitem', { selected: true }).textContent).toBe('Folder a113own');
    // What is folded again stays so.
    screen.getByRole('tree').focus();
    await user.keyboard('{Home}{ArrowLeft}');
    rerender(shown(['a', 'a1']));
    expect(items()).toEqual(['Folder a']);
    expect(load).toHaveBeenCalledTimes(2);
  });

  it('says what could not be read, and tries again when it is opened again', async () => {
    const user = userEvent.setup();
    const load = vi
      .fn()
      .mockRejectedValueOnce(new Error('gone'))
      .mockResolvedValue([node('a1')]);
    render(<Shown load={load} />);
    screen.getByRole('tree').focus();
    await user.keyboard('{ArrowRight}');
    await screen.findByText('◆ could not be read');
    await user.keyboard('{ArrowLeft}{ArrowRight}');
    await screen.findByText('Folder a1');
  });
});

describe('a matrix', () => {
  function Shown() {
    const [chosen, setChosen] = useState<MatrixChoice>({});
    return (
      <>
        <Matrix
          corner="Kind"
          label="Kinds"
          rows={['Manifest', 'Payroll'].map((name) => ({ key: name, name }))}
          columns={['Name', 'Health'].map((name) => ({ key: name, name }))}
          value={(r, c) => (r === 'Manifest' && c === 'Health' ? 97 : 0)}
          chosen={chosen}
          onChoose={setChosen}
        />
        <output>{JSON.stringify(chosen)}</output>
      </>
    );
  }
  const chosen = () => JSON.parse(screen.getByRole('status').textContent) as MatrixChoice;

  it('chooses a cell, a row or a column, and lets it go again', async () => {
    const user = userEvent.setup();
    render(<Shown />);
    const cell = screen.getByRole('button', { name: 'Manifest, Health: 97' });
    await user.click(cell);
    expect(chosen()).toEqual({ row: 'Manifest', column: 'Health' });
    expect(cell.getAttribute('aria-pressed')).toBe('true');
    await user.click(cell);
    expect(chosen()).toEqual({});
    await user.click(screen.getByRole('button', { name: 'Payroll' }));
    expect(chosen()).toEqual({ row: 'Payroll' });
    await user.click(screen.getByRole('button', { name: 'Health' }));
    expect(chosen()).toEqual({ column: 'Health' });
  });

  it('is walked with the arrows, and stops at its edges', async () => {
    const user = userEvent.setup();
    render(<Shown />);
    screen.getByRole('button', { name: 'Manifest, Name: 0' }).focus();
    await user.keyboard('{ArrowRight}{ArrowDown}{ArrowDown}{ArrowRight}{Enter}');
    expect(chosen()).toEqual({ row: 'Payroll', column: 'Health' });
  });
});

describe('people to choose from', () => {
  const PEOPLE = [
    { id: 1, name: 'Ines Abara', title: 'Privacy officer', role: 'officer', why: 'asks for it' },
    { id: 2, name: 'Sanne Holt', title: 'Records', role: 'records manager' },
    { id: 3, name: 'Magnus Reyer', title: 'Shares', role: 'access reviewer' },
  ];
  function Shown() {
    const [chosen, setChosen] = useState<readonly number[]>([]);
    return <PeoplePicker label="Who" people={PEOPLE} chosen={chosen} onChange={setChosen} />;
  }

  it('are found by name, title or role, and taken in and out', async () => {
    const user = userEvent.setup();
    render(<Shown />);
    await user.click(screen.getByRole('option', { name: /Sanne/ }));
    await user.click(screen.getByRole('option', { name: /Magnus/ }));
    expect(screen.getByText('Chosen: Sanne Holt, Magnus Reyer')).toBeTruthy();
    await user.type(screen.getByRole('searchbox'), 'records');
    await waitFor(() => expect(screen.getAllByRole('option')).toHaveLength(1));
    await user.click(screen.getByRole('option', { name: /Sanne/ }));
    expect(screen.getByText('Chosen: Magnus Reyer')).toBeTruthy();
  });

  it('who cannot be chosen say why', async () => {
    const user = userEvent.setup();
    render(<Shown />);
    const ines = screen.getByRole('option', { name: /Ines/ });
    expect(ines.textContent).toContain('asks for it');
    await user.click(ines);
    expect(screen.getByText('Nobody is chosen yet.')).toBeTruthy();
  });
});

describe('days', () => {
  it.each([
    [{ from: '', to: '' }, 'Any day'],
    [{ from: '2026-11-03', to: '' }, 'From 3 Nov 2026'],
    [{ from: '', to: '2026-11-03' }, 'Up to 3 Nov 2026'],
    [{ from: '2026-11-03', to: '2026-11-20' }, '3 Nov 2026 – 20 Nov 2026'],
    [{ from: '2026-11-03', to: '2026-11-03' }, '3 Nov 2026'],
  ])('%o read “%s”', (days, words) => expect(rangeWords(days)).toBe(words));

  it('are typed as they are read; what is no day is said and changes nothing', async () => {
    const user = userEvent.setup();
    const onChange = vi.fn();
    render(<RangeField label="When" value={{ from: '', to: '' }} onChange={onChange} />);
    await user.click(screen.getByRole('button', { name: 'When: Any day' }));
    const from = screen.getByLabelText('From');
    await user.type(from, '31 Feb 2026{Enter}');
    expect(screen.getByText('◆ Type it as 20 Nov 2026')).toBeTruthy();
    expect(onChange).not.toHaveBeenCalled();
    await user.clear(from);
    await user.type(from, '3.11.2026{Enter}');
    expect(onChange).toHaveBeenCalledWith({ from: '2026-11-03', to: '' });
    await user.keyboard('{Escape}');
    expect(screen.queryByRole('dialog')).toBeNull();
  });

  it('are chosen in a calendar, in the viewer’s own zone', async () => {
    const onChange = vi.fn();
    render(<RangeField label="When" value={{ from: '2026-11-03', to: '2026-11-10' }} onChange={onChange} />);
    fireEvent.click(screen.getByRole('button', { name: /^When/ }));
    const day = await screen.findByRole('button', { name: /November 20th, 2026/ });
    fireEvent.click(day);
    expect(onChange).toHaveBeenCalledWith({ from: '2026-11-03', to: '2026-11-20' });
  });
});

it('one of some values is taken with the keyboard', async () => {
  const user = userEvent.setup();
  const onChange = vi.fn();
  const options = ['Halmsund', 'Østervig'].map((w) => ({ value: w, words: w }));
  render(<SelectField label="Port" options={options} value="Halmsund" onChange={onChange} />);
  await user.click(screen.getByRole('button', { name: 'Port: Halmsund' }));
  await user.keyboard('{ArrowDown}{Enter}');
  expect(onChange).toHaveBeenCalledWith('Østervig');
  expect(screen.queryByRole('listbox')).toBeNull();
});

it('a menu does what is chosen, and not what cannot be done now', async () => {
  const user = userEvent.setup();
  const done: string[] = [];
  render(
    <MenuButton
      label="More"
      acts={[
        { id: 'a', words: 'Copy it', act: () => done.push('copied') },
        { id: 'b', words: 'Retire it', act: () => done.push('retired'), why: 'It is a draft.' },
      ]}
    />,
  );
  await user.click(screen.getByRole('button', { name: 'More' }));
  await user.click(await screen.findByRole('menuitem', { name: /Retire/ }));
  expect(done).toEqual([]);
  await user.click(screen.getByRole('menuitem', { name: /Copy/ }));
  expect(done).toEqual(['copied']);
});

describe('a chart over time', () => {
  const series = [
    {
      name: 'Denmark',
      points: [
        { at: '2026-11-01T00:00:00Z', value: 50, low: 45, high: 55 },
        { at: '2026-11-02T00:00:00Z', value: 52 },
      ],
    },
    { name: 'Sweden', points: [{ at: '2026-11-02T00:00:00Z', value: 40 }] },
  ];

  it('opens its points, and can be read as a table', async () => {
    const user = userEvent.setup();
    const onOpen = vi.fn();
    render(<TimeChart label="Rates" unit="%" series={series} onOpen={onOpen} />);
    await user.click(screen.getByRole('button', { name: 'Denmark, 1 Nov 2026: 50, between 45 and 55' }));
    expect(onOpen).toHaveBeenCalledWith('Denmark', series[0]?.points[0]);
    await user.click(screen.getByRole('button', { name: 'Read as a table' }));
    const rows = within(screen.getByRole('table')).getAllByRole('row');
    expect(rows.map((r) => r.textContent)).toEqual([
      'DayDenmark, %Sweden, %',
      '1 Nov 202650–',
      '2 Nov 20265240',
    ]);
  });

  it('draws one point, and says where there is none', () => {
    const { rerender } = render(<TimeChart label="R" unit="%" series={[series[1]!]} />);
    expect(document.querySelector('circle')?.getAttribute('cx')).not.toContain('NaN');
    rerender(<TimeChart label="R" unit="%" series={[]} />);
    expect(screen.getByText(/Nothing was kept yet/)).toBeTruthy();
  });
});

it('a map of sizes gives each place room by what is in it', async () => {
  const user = userEvent.setup();
  const onChoose = vi.fn();
  const root = {
    id: 'all',
    name: 'All',
    children: [
      { id: 'a', name: 'Large', size: 300 },
      { id: 'b', name: 'Small', size: 100 },
      { id: 'c', name: 'Empty', size: 0 },
    ],
  };
  render(<TreeMap label="Items" root={root} words={(n) => `${n} items`} onChoose={onChoose} />);
  const area = (name: string) => {
    const rect = screen.getByRole('button', { name }).querySelector('rect');
    return Number(rect?.getAttribute('width')) * Number(rect?.getAttribute('height'));
  };
  expect(area('Large: 300 items') / area('Small: 100 items')).toBeCloseTo(3, 0);
  await user.click(screen.getByRole('button', { name: 'Small: 100 items' }));
  expect(onChoose).toHaveBeenCalledWith('b');
  await user.click(screen.getByRole('button', { name: 'Read as a table' }));
  expect(screen.getAllByRole('row').map((r) => r.textContent)).toEqual([
    'Large300 items',
    'Small100 items',
    'Empty0 items',
  ]);
});

describe('a map of flows', () => {
  const points = [
    { id: 'p', name: 'passengers', column: 0 },
    { id: 's', name: 'Booking', column: 1 },
    { id: 'r', name: 'A recipient with a name that is longer than there is room for', column: 2 },
  ];
  const flows = [
    { from: 'p', to: 's', size: 3, words: 'passengers to Booking: 3 kinds' },
    { from: 's', to: 'r', size: 1, words: 'Booking to a recipient', mark: true },
  ];

  it('draws each flow as wide as it is, marks what is wrong, and is chosen from by the keyboard', async () => {
    const choose = vi.fn();
    const { container } = render(
      <FlowMap
        label="Who gives what to whom"
        columns={['Whose data', 'Systems', 'Recipients']}
        points={points}
        flows={flows}
        chosen="s"
        onChoose={choose}
      />,
    );
    const [wide, narrow] = [...container.querySelectorAll('path')];
    expect(Number(wide?.getAttribute('stroke-width'))).toBeCloseTo(
      3 * Number(narrow?.getAttribute('stroke-width')),
    );
    expect([wide, narrow].map((p) => p?.getAttribute('data-mark'))).toEqual([null, 'true']);
    expect(narrow?.textContent).toBe('Booking to a recipient');
    expect(screen.getByRole('button', { name: 'Booking' }).getAttribute('aria-pressed')).toBe('true');
    screen.getByRole('button', { name: /^A recipient/ }).focus();
    await userEvent.keyboard('{Enter}');
    expect(choose).toHaveBeenCalledWith('r');
    expect(container.textContent).toContain('A recipient with a name…');
  });
});

describe('a short table of figures', () => {
  it('has headings that are read out, and figures under theirs on the right', () => {
    render(
      <FigureTable
        columns={['Place', { figure: 'Items' }, { unseen: 'Act' }]}
        rows={[{ key: 1, cells: ['Quay', '12', <button key="b">Open</button>] }]}
      />,
    );
    expect(screen.getAllByRole('columnheader').map((h) => h.textContent)).toEqual(['Place', 'Items', 'Act']);
    const [place, items, act] = within(screen.getByRole('row', { name: /Quay/ })).getAllByRole('cell');
    expect(items?.className).not.toBe(place?.className);
    expect(screen.getByRole('columnheader', { name: 'Items' }).className).toBe(items?.className);
    expect(act?.querySelector('button')).not.toBeNull();
  });
});

describe('a choice in a form', () => {
  it('shows its label, which is read out once, and takes what is chosen', async () => {
    const chosen = vi.fn();
    render(
      <ChoiceField
        label="Port"
        value="a"
        options={[
          { value: 'a', words: 'Halmsund' },
          { value: 'b', words: 'Vigsoe' },
        ]}
        onChange={chosen}
      />,
    );
    expect(screen.getByText('Port').getAttribute('aria-hidden')).toBe('true');
    await userEvent.click(screen.getByRole('button', { name: 'Port: Halmsund' }));
    await userEvent.click(screen.getByRole('option', { name: 'Vigsoe' }));
    expect(chosen).toHaveBeenCalledWith('b');
  });
});

describe('an option that cannot be chosen', () => {
  it('says why, and neither a press nor Enter takes it', async () => {
    const user = userEvent.setup();
    const chosen = vi.fn();
    const options = [
      { value: 'off', words: 'off' },
      { value: 'on', words: 'on', whyNot: 'The law asks first.' },
    ];
    render(<ChoiceEditor label="Interests" options={options} value="off" onChoose={chosen} />);
    await user.click(screen.getByText('The law asks first.'));
    await user.keyboard('{ArrowDown}{Enter}');
    expect(chosen).not.toHaveBeenCalled();
    expect(screen.getByRole('option', { name: /on/ }).getAttribute('aria-disabled')).toBe('true');
    await user.keyboard('{ArrowUp}{Enter}');
    expect(chosen).toHaveBeenCalledWith('off');
  });
});

describe('a text with manners', () => {
  const doc = (...content: object[]) => ({ type: 'doc', content });
  const text = (words: string, ...marks: object[]) => ({ type: 'text', text: words, marks });
  const p = (...content: object[]) => ({ type: 'paragraph', content });
  const item = (...content: object[]) => ({ type: 'listItem', content });

  it('is read from the editor’s document, a list within a list as one', () => {
    const blocks = blocksOf(
      doc(
        p(text('See '), text('it', { type: 'bold' }, { type: 'link', attrs: { href: '/p' } })),
        {
          type: 'bulletList',
          content: [item(p(text('a')), { type: 'bulletList', content: [item(p(text('b')))] })],
        },
        { type: 'paragraph' },
      ),
    );
    expect(blocks).toEqual([
      { is: 'paragraph', runs: [{ text: 'See ' }, { text: 'it', strong: true, href: '/p' }] },
      { is: 'list', items: [[{ text: 'a' }], [{ text: 'b' }]] },
      { is: 'paragraph', runs: [] },
    ]);
  });
});
