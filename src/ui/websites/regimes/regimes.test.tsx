// @vitest-environment jsdom
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { AUDITOR, sheetTest } from '../../../../tests/sheet.tsx';
import { FIRST_PURPOSES } from '../../../core/websites/notice/purpose.ts';
import { regimeTable, type RegimeRow } from '../../../core/websites/notice/regime.ts';
import { RegimesSheet } from './RegimesSheet.tsx';

const test = sheetTest('/websites/regimes');

function show(account = test.officer, own: readonly RegimeRow[] = []) {
  test.answers['GET /api/websites/regimes'] = regimeTable(own).map((row) => {
    const said = own.some((o) => o.code === row.code);
    return {
      ...row,
      ...{
        revision: said ? 1 : 0,
        added: row.code === 'JP',
        editedBy: said ? 'Magnus' : null,
        editedAt: null,
      },
    };
  });
  test.answers['GET /api/websites/purposes'] = FIRST_PURPOSES;
  test.answers['PUT /api/websites/regimes'] = {};
  return test.show(<RegimesSheet />, account);
}
const row = (name: RegExp) => screen.findByRole('row', { name });

describe('the table of regimes', () => {
  it('tells region by region what waits, what runs, and what the signal refuses', async () => {
    show();
    const eea = within(await row(/^European Economic Area \(30\)|^EEA \(30\)/));
    expect(eea.getAllByLabelText(/waits to be allowed/)).toHaveLength(3);
    const california = within(await row(/^California/));
    expect(california.getByLabelText('Advertising in California: runs until refused').textContent).toBe('⊘');
    expect(california.getByLabelText('Measurement in California: runs until refused').textContent).toBe('●');
  });

  it('says a start in one press, with the revision that was seen', async () => {
    const user = userEvent.setup();
    show();
    await user.click(await screen.findByLabelText('Measurement in Canada: runs until refused'));
    await waitFor(() => expect(test.sent()).toHaveLength(1));
    expect(test.sent()[0]).toMatchObject({
      ...{ method: 'PUT', path: '/api/websites/regimes' },
      body: { revision: 0, row: { code: 'CA', starts: { measurement: 'off' } } },
    });
  });

  it('adds a region that begins as the one that holds there, and refuses a code that is none', async () => {
    const user = userEvent.setup();
    show();
    await user.click(await screen.findByRole('button', { name: /Add a region/ }));
    await user.keyboard('x1');
    expect(screen.getByText(/Write a code such as JP or DE-BY/)).toBeTruthy();
    await user.clear(screen.getByRole('textbox'));
    await user.keyboard('de-by{Enter}');
    await waitFor(() => expect(test.sent()).toHaveLength(1));
    expect(test.sent()[0]?.body).toMatchObject({ row: { code: 'DE-BY', regime: 'ask first' }, revision: 0 });
  });

  it('tells who said otherwise than what ships, and takes it back', async () => {
    const user = userEvent.setup();
    const japan: RegimeRow = {
      code: 'JP',
      regime: 'inform only',
      law: 'an act',
      starts: {},
      signal: false,
      months: null,
    };
    show(test.officer, [japan]);
    test.answers['DELETE /api/websites/regimes/JP'] = {};
    const said = within(await row(/^Japan/));
    expect(said.getByText(/said by Magnus/)).toBeTruthy();
    await user.click(said.getByRole('button', { name: 'Take back what is said of Japan' }));
    await waitFor(() => expect(test.sent()[0]?.method).toBe('DELETE'));
  });

  it('is read by who may only read', async () => {
    show(AUDITOR);
    await row(/^California/);
    expect(screen.queryByRole('button', { name: /Add a region/ })).toBeNull();
    expect(screen.queryByRole('button', { name: /^Regime of/ })).toBeNull();
  });
});
