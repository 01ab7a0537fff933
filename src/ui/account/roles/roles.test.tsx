// @vitest-environment jsdom
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import type { ListedRole, RoleOutlook, Roles } from '../../../server/desk/role-outlook.ts';
import { AUDITOR, sheetTest } from '../../../../tests/sheet.tsx';
import { NewRole } from './NewRole.tsx';
import { RoleSheet } from './RoleSheet.tsx';
import { RoleSoundings } from './RoleSoundings.tsx';
import { RolesOverview } from './RolesOverview.tsx';
import { RolesSentence } from './RolesSentence.tsx';

const t = sheetTest('/account/roles');
const role = (id: string, more: Partial<ListedRole> = {}): ListedRole => ({
  ...{
    id,
    name: id,
    own: false,
    state: 'in force',
    allows: 8,
    holders: 1,
    unused: 0,
    contains: [],
    within: [],
  },
  ...more,
});
const all = (roles: readonly ListedRole[], more: Partial<Roles> = {}): Roles => ({
  ...{ roles, counting: { days: 90, onlySince: null }, needless: [] },
  ...more,
});
const outlook = (more: Partial<RoleOutlook> = {}): RoleOutlook => ({
  ...{ id: '3', name: 'Reads', own: true, actions: ['ledger.read', 'ledger.export'], holders: [] },
  ...{
    counting: { days: 90, onlySince: '2026-11-01' },
    used: [],
    unused: [],
    kin: [],
    blind: [],
    elsewhere: [],
  },
  ...more,
});
const holder = (more: Partial<RoleOutlook['holders'][number]> = {}): RoleOutlook['holders'][number] => ({
  ...{ id: 7, role: '3', name: 'Osei Darko', title: '', disabled: false, given_at: '2026-10-01T10:00:00Z' },
  ...{ given_by: 'Ines Abara', used: 1, gains: [], loses: [] },
  ...more,
});

describe('roles beside each other', () => {
  it('tell which is broader than its use, and whose role gives nothing', async () => {
    t.answers['GET /api/accounts/roles'] = all(
      [role('auditor', { unused: 2 }), role('3', { name: 'Reads', own: true, holders: 0, state: 'draft' })],
      { needless: [{ id: 7, name: 'Osei Darko', roles: ['Reads'] }] },
    );
    t.show(<RolesOverview />);
    await screen.findByText('◆ 1 role is broader than what is done with it');
    within(screen.getByRole('row', { name: /auditor/ })).getByText('◆ 2');
    within(screen.getByRole('row', { name: /Reads/ })).getByText('nobody');
    expect(screen.getByRole('link', { name: 'Osei Darko' }).getAttribute('href')).toBe('/account/7');
  });

  it('are quiet where each is used', async () => {
    t.answers['GET /api/accounts/roles'] = all([role('auditor')]);
    t.show(<RolesOverview />);
    await screen.findByText('✓ Every role that is held is used');
  });
});

describe('a role', () => {
  it('that ships is read, and copied by who may make roles', async () => {
    t.show(<RoleSheet id="auditor" />, AUDITOR);
    screen.getByText('seeing the ledger, exporting the ledger');
    expect(screen.queryByRole('button')).toBeNull();
    t.reset();
    t.show(<RoleSheet id="auditor" />);
    await userEvent.click(screen.getByRole('button', { name: 'Make one of your own from it' }));
    expect(location.search).toBe('?new=role&from=all%3Aauditor');
  });

  it('tells who holds it, what its draft would change for them, what nobody used and what others must grant', async () => {
    t.answers['GET /api/rules/role/3'] = { revision: 4 };
    t.answers['GET /api/accounts/roles/3/outlook'] = outlook({
      holders: [
        holder({ gains: ['seeing websites'] }),
        holder({ id: 8, name: 'Emil Varga', disabled: true }),
      ],
      used: [{ action: 'ledger.read', words: 'seeing the ledger' }],
      unused: [{ action: 'ledger.export', words: 'exporting the ledger' }],
      kin: [{ id: 'auditor', name: 'auditor', is: 'within' }],
      blind: [{ act: 'starting a sweep', lacks: 'seeing websites' }],
      elsewhere: [
        {
          ...{ act: 'surveying sources', system: 'Share', link: '/holdings/sources/1', needs: 'reading it' },
          ...{ told: 'refused', said: 'Permission denied.' },
        },
      ],
    });
    t.show(<RoleSoundings id="3" />);
    await screen.findByText('◇ would gain: seeing websites');
    screen.getByText(/^1 of 2 permissions used · since 1 Oct 2026, by Ines Abara/);
    screen.getByText(/^◆ cannot sign in/);
    screen.getByText('◆ Nobody used: exporting the ledger.');
    screen.getByText('Use is counted over 90 days, so far since 1 Nov 2026.');
    screen.getByText(/starting a sweep: without seeing websites/);
    screen.getByText('reading it · it refused: Permission denied.');
    await userEvent.click(screen.getByRole('button', { name: 'Make one of what is used' }));
    expect(location.search).toBe('?new=role&from=used%3A3');
  });

  it('begins with what is used of another, and is refused in words', async () => {
    t.answers['GET /api/accounts/roles/3/outlook'] = outlook({
      used: [{ action: 'ledger.read', words: 'seeing the ledger' }],
    });
    t.answers['POST /api/accounts/roles'] = t.refused('Nobody gives what they do not have.', [
      { field: 'actions', message: 'Ask an officer.' },
    ]);
    t.show(<NewRole from="used:3" />);
    await screen.findByText(/^It begins with 1 permission/);
    await userEvent.click(screen.getByRole('button', { name: 'Begin its draft' }));
    await screen.findByText(/Nobody gives what they do not have. Ask an officer.$/);
    expect(t.sent().at(-1)?.body).toEqual({ name: 'Reads, narrower', actions: ['ledger.read'] });
  });
});

describe('the roles of a person', () => {
  it('are chosen among those in force, and given at once', async () => {
    t.answers['GET /api/accounts/roles'] = all([
      ...[
        role('auditor'),
        role('3', { name: 'Reads', own: true }),
        role('4', { name: 'Later', state: 'draft' }),
      ],
    ]);
    t.answers['GET /api/objects/account%20roles/7'] = { content: { roles: ['auditor'] }, revision: 2 };
    t.answers['PUT /api/objects/account%20roles/7'] = { revision: 3 };
    t.show(<RolesSentence id={7} name="Osei Darko" />);
    await userEvent.click(await screen.findByRole('button', { name: 'Roles: auditor' }));
    expect(screen.queryByText('Later')).toBeNull();
    await userEvent.click(screen.getByRole('option', { name: /^Reads/ }));
    await userEvent.keyboard('{Escape}');
    await waitFor(() =>
      expect(t.sent().at(-1)).toMatchObject({
        method: 'PUT',
        body: { revision: 2, base: { roles: ['auditor'] }, content: { roles: ['3', 'auditor'] } },
      }),
    );
    t.reset();
    t.show(<RolesSentence id={7} name="Osei Darko" />, AUDITOR);
    await screen.findByText('auditor');
    expect(screen.queryByRole('button')).toBeNull();
  });
});
