// @vitest-environment jsdom
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it } from 'vitest';
import { AUDITOR, sheetTest } from '../../../../tests/sheet.tsx';
import { Report } from '../../../core/evidence/reports/report.ts';
import { BackupsSheet } from '../BackupsSheet.tsx';
import { FileTable } from './FileTable.tsx';
import { NewReport } from './NewReport.tsx';
import { ReportSheet } from './ReportSheet.tsx';
import { ReportsOverview } from './ReportsOverview.tsx';
import type { MadeFile, OpenReport } from './use-reports.ts';

const test = sheetTest('/evidence/reports/4');
const SCHEDULE = { every: 'week', weekday: 1, day: 1, at: '07:00', zone: 'Europe/Copenhagen' } as const;
const report = (more: Partial<Report> = {}): Report =>
  Report.parse({ name: 'The <b>board</b>', what: 'figure:a.b', format: 'pdf', people: [1], ...more });
const file = (more: Partial<MadeFile> = {}): MadeFile => ({
  ...{ id: 9, reportId: 4, report: report(), askedAt: '2026-12-01T10:00:00Z', state: 'ready', problem: '' },
  ...{ madeAt: '2026-12-01T10:00:05Z', keepUntil: '2027-03-01T10:00:00Z', lines: 12, size: 14_300 },
  ...{
    digest: 'ab'.repeat(32),
    ledgerId: '77',
    people: [1],
    leftOut: [],
    needs: [],
    fetched: 0,
    goneAt: null,
  },
  ...more,
});
const serve = (content: Report, files: readonly MadeFile[] = [], more: Partial<OpenReport> = {}) => {
  test.answers['GET /api/evidence/reports/4'] = {
    ...{ id: 4, report: content, files, madeBy: { id: 1, name: 'Ines Abara' } },
    ...{ mayEdit: true, addresses: [], sentTo: 0, ...more },
    ...{ nextAt: content.schedule && '2026-12-07T06:00:00Z', lastAt: files[0]?.madeAt ?? null },
  };
  test.answers['GET /api/objects/report/4'] = { content, revision: 1, editedBy: null, editedAt: null };
};
beforeEach(() => {
  test.answers['GET /api/evidence/reports/subjects'] = {
    subjects: [
      { id: 'figure:a.b', name: 'Leaks', group: 'Figures', takes: ['days'], parts: ['site'] },
      { id: 'holdings.items', name: 'Items in a lens', group: 'Lists', takes: ['lens'], parts: [] },
    ],
    people: [
      { id: 1, name: 'Ines Abara' },
      { id: 2, name: 'Emil Varga' },
    ],
  };
  test.answers['PUT /api/objects/report/4'] = { revision: 2 };
});
const sent = () =>
  (test.sent().find((s) => s.method === 'PUT')?.body as { content: Report } | undefined)?.content;

describe('a report', () => {
  it('reads as a sentence with what its subject can be narrowed by, and says when it is made next', async () => {
    serve(report({ schedule: SCHEDULE }), [file()]);
    test.show(<ReportSheet id={4} />);
    await screen.findByText('The <b>board</b>');
    await screen.findByRole('button', { name: /^Which days/ });
    expect(screen.getByRole('button', { name: /^Told apart by/ })).toBeTruthy();
    expect(screen.queryByRole('button', { name: /^Line of the lens/ })).toBeNull();
    expect(screen.getByText(/^next .* what Ines Abara may see$/)).toBeTruthy();
    expect(screen.getByText(/12 rows, PDF, 14\.3 kB/)).toBeTruthy();
  });

  it('is changed where it stands, and what another subject does not have falls away', async () => {
    serve(report({ by: 'site', range: 'last month' }));
    const user = userEvent.setup();
    test.show(<ReportSheet id={4} />);
    await user.click(await screen.findByRole('button', { name: /^What it tells of/ }));
    await user.click(await screen.findByRole('option', { name: /Items in a lens/ }));
    await waitFor(() => expect(sent()).toMatchObject({ what: 'holdings.items', by: null, range: 'all' }));
  });

  it('refuses what is no address beside it, and keeps nothing', async () => {
    serve(report());
    const user = userEvent.setup();
    test.show(<ReportSheet id={4} />);
    await user.click(await screen.findByRole('button', { name: '1 person is told' }));
    await user.type(await screen.findByLabelText('Addresses of others'), 'a@b.example, nobody');
    await user.click(screen.getByRole('button', { name: 'Keep it' }));
    expect(await screen.findByText('◆ nobody is no address')).toBeTruthy();
    expect(sent()).toBeUndefined();
  });

  it('goes to people and addresses, each kept where it belongs', async () => {
    serve(report(), [], { addresses: ['old@b.example'], sentTo: 1 });
    test.answers['PUT /api/evidence/reports/4/addresses'] = null;
    const user = userEvent.setup();
    test.show(<ReportSheet id={4} />);
    await user.click(await screen.findByRole('button', { name: '2 people are told' }));
    const field = await screen.findByLabelText<HTMLTextAreaElement>('Addresses of others');
    expect(field.value).toBe('old@b.example');
    await user.clear(field);
    await user.type(field, 'new@b.example');
    await user.click(screen.getByRole('button', { name: 'Keep it' }));
    await waitFor(() =>
      expect(test.sent().filter((s) => s.method === 'PUT')).toEqual([
        expect.objectContaining({
          path: '/api/evidence/reports/4/addresses',
          body: { addresses: ['new@b.example'] },
        }),
        expect.objectContaining({ path: '/api/objects/report/4' }),
      ]),
    );
    expect(JSON.stringify(test.sent().at(-1)?.body)).not.toContain('b.example');
  });

  it('says how many it goes to, and no address, to whoever may not send to them', async () => {
    serve(report(), [], { addresses: null, sentTo: 3 });
    const user = userEvent.setup();
    test.show(<ReportSheet id={4} />);
    await user.click(await screen.findByRole('button', { name: '4 people are told' }));
    await screen.findByRole('button', { name: 'Keep it' });
    expect(screen.queryByLabelText('Addresses of others')).toBeNull();
  });

  it('is removed once that was said a second time, and tells what goes with it', async () => {
    serve(report(), [file()]);
    test.answers['DELETE /api/evidence/reports/4'] = null;
    const user = userEvent.setup();
    test.show(<ReportSheet id={4} />);
    await user.click(await screen.findByRole('button', { name: 'More' }));
    await user.click(await screen.findByRole('menuitem', { name: 'Remove it, with its files' }));
    await screen.findByText(/1 file of it goes; the ledger keeps their digests/);
    expect(test.sent().some((s) => s.method === 'DELETE')).toBe(false);
    await user.click(screen.getByRole('button', { name: 'Remove it' }));
    await waitFor(() => expect(test.sent().some((s) => s.method === 'DELETE')).toBe(true));
  });

  it('is read only for whoever may not change it', async () => {
    serve(report(), [], { mayEdit: false });
    test.show(<ReportSheet id={4} />, AUDITOR);
    await screen.findByText('The <b>board</b>');
    expect(screen.queryByRole('button', { name: 'Make it now' })).toBeNull();
  });
});

describe('what was made', () => {
  it('is fetched while it is kept; says what failed, who was left out and what is gone', () => {
    test.show(
      <FileTable
        files={[
          file(),
          file({ id: 10, state: 'waiting', digest: null, ledgerId: null }),
          file({ id: 11, state: 'failed', problem: 'What this report tells of is no more.', digest: null }),
          file({ id: 12, leftOut: ['Emil Varga'], goneAt: '2026-12-02T10:00:00Z' }),
        ]}
      />,
    );
    const rows = within(screen.getByRole('table', { name: 'Files' }))
      .getAllByRole('row')
      .slice(1);
    expect(rows.map((r) => within(r).queryAllByRole('link').length)).toEqual([2, 0, 0, 1]);
    expect(rows[1]?.textContent).toContain('○ being made');
    expect(rows[2]?.textContent).toContain('◆ What this report tells of is no more.');
    expect(rows[3]?.textContent).toContain('Emil Varga');
    expect(rows[3]?.textContent).toContain('gone');
  });

  it('stands with what is made by itself next, the nearest first', async () => {
    const listed = (id: number, nextAt: string | null) => ({
      ...{ id, name: `Report ${id}`, what: 'Leaks', format: 'pdf', schedule: nextAt ? SCHEDULE : null },
      ...{ nextAt, lastAt: null, madeBy: 'Ines Abara' },
    });
    test.answers['GET /api/evidence/reports'] = [
      listed(1, '2027-02-01T06:00:00Z'),
      listed(2, null),
      listed(3, '2027-01-01T06:00:00Z'),
    ];
    test.answers['GET /api/evidence/reports/files'] = [];
    test.show(<ReportsOverview />);
    const table = await screen.findByRole('table', { name: 'Made by themselves' });
    expect(
      within(table)
        .getAllByRole('link')
        .map((l) => l.textContent),
    ).toEqual(['Report 3', 'Report 1']);
    expect(screen.getByText('Nothing was made yet')).toBeTruthy();
  });
});

describe('a new report', () => {
  it('is begun in one act from a board, for whoever asks, and keeps a refusal beside its field', async () => {
    window.history.replaceState(null, '', '/evidence/reports?new=report&of=figure:a.b&every=week');
    test.answers['POST /api/evidence/reports'] = { id: 5 };
    const user = userEvent.setup();
    test.show(<NewReport />);
    await screen.findByRole('button', { name: /What it tells of: Leaks/ });
    await user.click(screen.getByRole('button', { name: 'Begin it' }));
    await waitFor(() => expect(test.sent().some((s) => s.method === 'POST')).toBe(true));
    expect(test.sent().find((s) => s.method === 'POST')?.body).toMatchObject({
      ...{ name: 'Leaks', what: 'figure:a.b', format: 'pdf', people: [1] },
      schedule: { every: 'week', weekday: 1, at: '07:00' },
    });
  });
});

describe('the backups', () => {
  it('say whether one was ever proved, and what was wrong', async () => {
    const backup = (n: number, more: object) => ({
      ...{
        file: `yare-${n}.backup`,
        size: 5_000_000,
        digest: String(n).repeat(64),
        entries: null,
        problem: '',
      },
      ...{ madeAt: '2026-12-01T02:30:00Z', provedAt: null, ...more },
    });
    test.answers['GET /api/evidence/backups'] = [
      backup(1, {}),
      backup(2, { problem: 'The file is cut off.' }),
      backup(3, { provedAt: '2026-11-30T02:31:00Z', entries: 34_000 }),
    ];
    test.show(<BackupsSheet />);
    expect(await screen.findByText(/found in order .* with 34,000 ledger entries/)).toBeTruthy();
    expect(screen.getByText('◆ The file is cut off.')).toBeTruthy();
    expect(screen.getByText('○ not yet')).toBeTruthy();
  });

  it('say what to do where there is none', async () => {
    test.answers['GET /api/evidence/backups'] = [];
    test.show(<BackupsSheet />);
    expect(await screen.findByText('◆ No backup was ever restored and found in order')).toBeTruthy();
    expect(screen.getByText(/\.\/yare backup FILE --prove/)).toBeTruthy();
  });
});
