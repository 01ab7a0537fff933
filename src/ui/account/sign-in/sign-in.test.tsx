// @vitest-environment jsdom
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it } from 'vitest';
import { AUDITOR, sheetTest } from '../../../../tests/sheet.tsx';
import { USUAL_DEMAND, USUAL_POLICY } from '../../../core/accounts/sign-in/policy.ts';
import { PolicySoundings } from '../sign-on/PolicySoundings.tsx';
import { ProviderSheet } from '../sign-on/ProviderSheet.tsx';
import { SignOnSheet } from '../sign-on/SignOnSheet.tsx';
import { SignsInBy } from '../sign-on/SignsInBy.tsx';
import { OwnFactors } from './OwnFactors.tsx';
import { passkeyFault } from './passkey-fault.ts';
import { SignIn } from './SignIn.tsx';

const test = sheetTest('/account');
const show = (of: Parameters<typeof test.show>[0], account?: Parameters<typeof test.show>[1]) => {
  test.show(of, account);
  return userEvent.setup();
};
const because = { own: 'all', signOn: 'all', idleMinutes: 'all', mostHours: 'all' } as const;

describe('signing in', () => {
  const typed = async () => {
    const user = show(<SignIn providers={[{ id: 3, name: 'Harbour & login' }]} passkeys={false} />);
    await user.type(screen.getByLabelText('E-mail'), 'ines@b.example');
    await user.type(screen.getByLabelText('Password'), 'five ships{Enter}');
    return user;
  };

  it('says what was wrong beside the password, and keeps what was typed', async () => {
    test.answers['POST /api/accounts/sign-in'] = {
      status: 401,
      ...test.refused('That e-mail and password do not go together.', [
        { field: 'password', message: 'Check both, then try again.' },
      ]),
    };
    await typed();
    await screen.findByText(/do not go together. Check both/);
    expect(screen.getByLabelText<HTMLInputElement>('E-mail').value).toBe('ines@b.example');
  });

  it('leads to a provider, and from there to where one wanted', () => {
    window.history.replaceState(null, '', '/sign-in?to=%2Fcases%2F4%3Fx%3D1');
    show(<SignIn providers={[{ id: 3, name: 'Harbour & login' }]} passkeys={false} />);
    expect(screen.getByRole('link', { name: 'Sign on with Harbour & login' }).getAttribute('href')).toBe(
      '/sign-on/start?provider=3&to=%2Fcases%2F4%3Fx%3D1',
    );
    expect(screen.queryByRole('button', { name: 'Use a passkey' })).toBeNull();
  });

  it('asks for a code, says why one is not good, and can begin again', async () => {
    test.answers['POST /api/accounts/sign-in'] = { asks: 'factor', code: true, passkey: null };
    const user = await typed();
    const field = await screen.findByLabelText('One-time code, or a recovery code');
    expect(screen.queryByRole('button', { name: 'Use your passkey' })).toBeNull();
    test.answers['POST /api/accounts/sign-in/factor'] = {
      status: 401,
      ...test.refused('That code is not good.', [{ field: 'code', message: 'Each is good once.' }]),
    };
    await user.type(field, '123456{Enter}');
    await screen.findByText(/That code is not good. Each is good once./);
    await user.click(screen.getByRole('button', { name: 'Begin again' }));
    expect(screen.getByLabelText('Password')).toBeTruthy();
  });

  it('sets up what a role asks for, and shows recovery codes before it goes on', async () => {
    test.answers['POST /api/accounts/sign-in'] = {
      ...{ asks: 'set up', least: 'two factors', because: 'Whoever is auditor', passkeys: false },
    };
    const user = await typed();
    await screen.findByText(/Whoever is auditor signs in with a second factor/);
    test.answers['POST /api/accounts/sign-in/set-up'] = {
      secret: { secret: 'ABCD', uri: 'otpauth://x', picture: 'data:image/png;base64,AA==' },
    };
    await user.click(screen.getByRole('button', { name: 'Set up one-time codes' }));
    expect((await screen.findByLabelText('Secret')).textContent).toBe('ABCD');
    test.answers['POST /api/accounts/sign-in/set-up'] = { others: 0, recovery: ['ABCDEFGHIJKLMNOP'] };
    await user.type(screen.getByLabelText('The code that it shows now'), '123456{Enter}');
    expect((await screen.findByLabelText('Recovery codes')).textContent).toBe('ABCD-EFGH-IJKL-MNOP');
    screen.getByRole('button', { name: 'They are kept: go on' });
    expect(test.sent().at(-1)?.body).toEqual({ do: 'keep code', code: '123456' });
  });

  it('says that a desk that is reached by a number has no passkeys, where one is asked', async () => {
    test.answers['POST /api/accounts/sign-in'] = {
      ...{ asks: 'set up', least: 'passkey', because: 'Everybody here', passkeys: false },
    };
    await typed();
    await screen.findByText(/passkeys belong to a name/);
    expect(screen.queryByRole('button', { name: /Set up/ })).toBeNull();
  });
});

it('says in words what a browser says of passkeys', () => {
  const fault = (name: string) => passkeyFault(Object.assign(new Error('x'), { name }));
  expect(fault('NotAllowedError')).toMatch('No passkey was shown');
  expect(fault('InvalidStateError')).toMatch('has a passkey of yours');
  expect(fault('SecurityError')).toMatch('does not do passkeys');
  expect(fault('TypeError')).toBeUndefined();
});

describe('what one signs in with', () => {
  const has = (more: object) => {
    test.answers['GET /api/accounts/factors'] = {
      ...{ passkeys: [], code: null, recovery: 0, hasPassword: true },
      demand: { ...USUAL_DEMAND, own: 'two factors', signOn: false, because },
      ...more,
    };
  };

  it('is told, with what is the least; few recovery codes are marked', async () => {
    const at = '2026-11-02T10:00:00Z';
    has({
      passkeys: [{ id: 5, name: '<i>Key</i>', synced: true, madeAt: at, usedAt: null }],
      ...{ code: { madeAt: at, usedAt: at }, recovery: 2 },
    });
    show(<OwnFactors />);
    await screen.findByText('The least that will do for you is a password and a second factor.');
    expect(screen.getByText('<i>Key</i>').closest('li')?.textContent).toContain('on more than one device');
    expect(screen.getByText('◆ Recovery codes')).toBeTruthy();
  });

  it('is the word of a provider for whoever has no password', async () => {
    has({ hasPassword: false });
    show(<OwnFactors />);
    await screen.findByText(/The word of your provider lets you in/);
  });

  it('is taken away with the password, and why it stays is said', async () => {
    has({ code: { madeAt: '2026-11-02T10:00:00Z', usedAt: null }, recovery: 10 });
    test.answers['POST /api/accounts/factors'] = {
      status: 409,
      ...test.refused('This is what your role asks for.', [
        { field: 'do', message: 'Set up another first, then take this one away.' },
      ]),
    };
    const user = show(<OwnFactors />);
    await user.click(await screen.findByRole('button', { name: 'Take away one-time codes' }));
    await user.type(screen.getByLabelText('Your password'), 'five ships{Enter}');
    await screen.findByText(/what your role asks for. Set up another first/);
    expect(test.sent().at(-1)?.body).toEqual({ do: 'drop code', password: 'five ships' });
  });
});

describe('how somebody else signs in', () => {
  const by = {
    factors: { passkeys: [], code: null, recovery: 0 },
    ...{ hasPassword: false, byGroups: [{ role: 'auditor', groups: ['Audit at Harbour login'] }] },
    identities: [
      {
        ...{ provider: 3, name: 'Harbour login', kept: true },
        ...{ linkedAt: '2026-11-02T10:00:00Z', seenAt: '2026-11-03T10:00:00Z' },
      },
    ],
  };
  beforeEach(() => {
    test.answers['GET /api/accounts/roles'] = { roles: [], countedSince: null };
  });

  it('tells the provider, what groups give, and offers nothing to take away where nothing is', () => {
    show(<SignsInBy id={9} name="Nora" by={by} />);
    expect(screen.getByText('Harbour login').closest('li')?.textContent).toContain('it keeps this account');
    expect(screen.getByText('sign-on alone')).toBeTruthy();
    expect(screen.getByText(/by Audit at Harbour login/)).toBeTruthy();
    expect(screen.queryByRole('button')).toBeNull();
  });

  it('offers an auditor nothing', () => {
    const factors = { ...by.factors, code: { madeAt: '2026-11-02T10:00:00Z', usedAt: null }, recovery: 3 };
    show(<SignsInBy id={9} name="Nora" by={{ ...by, factors }} />, AUDITOR);
    expect(screen.getByText(/one-time codes · 3 recovery codes left/)).toBeTruthy();
    expect(screen.queryByRole('button')).toBeNull();
  });
});

describe('what signing in asks', () => {
  beforeEach(() => {
    test.answers['GET /api/accounts/roles'] = {
      roles: [
        { id: 'officer', name: 'officer', state: 'in force', allows: 90, own: false },
        { id: 'auditor', name: 'auditor', state: 'in force', allows: 20, own: false },
      ],
      countedSince: null,
    };
    test.answers['GET /api/objects/sign-in%20policy/desk'] = {
      ...{ content: USUAL_POLICY, revision: 0, editedBy: null, editedAt: null },
    };
    test.answers['GET /api/accounts/providers'] = { providers: [], redirect: 'x', scim: 'y' };
    test.answers['POST /api/accounts/sign-in-policy/outlook'] = [
      { id: 1, name: 'Ines', verdict: 'ready', because: 'all', ends: 0 },
      {
        id: 2,
        name: 'Emil',
        verdict: 'sets up',
        missing: 'second factor',
        because: { role: 'auditor' },
        ends: 2,
      },
      { id: 3, name: 'Nora', verdict: 'cannot', missing: 'sign-on', because: 'all', ends: 0 },
    ];
  });

  it('is changed here first, with what it comes to beside it, and a refusal stays to be read', async () => {
    const user = show(
      <>
        <SignOnSheet />
        <PolicySoundings />
      </>,
    );
    expect(screen.queryByRole('button', { name: 'Ask it from now on' })).toBeNull();
    await user.click(await screen.findByRole('button', { name: /^Ask more of a role/ }));
    await user.click(await screen.findByRole('option', { name: 'auditor' }));
    await screen.findByText('Soundings · if it were asked now');
    expect(screen.getByText('2 sessions that began otherwise would end.')).toBeTruthy();
    expect(screen.getByText('Emil').closest('li')?.textContent).toContain(
      'sets up a second factor · asked of auditor',
    );
    expect(screen.getByText('Nora').closest('li')?.textContent).toContain('◆ has not signed on');
    test.answers['PUT /api/objects/sign-in%20policy/desk'] = {
      status: 409,
      ...test.refused('You could not sign in any more.', [{ field: 'content', message: 'Sign on once.' }]),
    };
    await user.click(screen.getByRole('button', { name: 'Ask it from now on' }));
    await screen.findByText(/You could not sign in any more. Sign on once./);
    const sent = test.sent().find((s) => s.method === 'PUT');
    expect(sent?.body).toMatchObject({
      base: USUAL_POLICY,
      content: { roles: { auditor: { own: 'two factors' } } },
    });
    await user.click(screen.getByRole('button', { name: 'Leave it as it was' }));
    await screen.findByText('Soundings · as it is asked');
  });

  it('is read by an auditor, and not changed', async () => {
    show(<SignOnSheet />, AUDITOR);
    await screen.findByText('No provider yet');
    await screen.findByText(/whatever happens/);
    expect(screen.queryByRole('button')).toBeNull();
  });
});

describe('a provider', () => {
  it('tells its groups: mapped, told of, with whoever is in them', async () => {
    const content = {
      ...{ name: 'Harbour login', clientId: 'yare', newcomers: 'refused', emails: 'verified', needs: 'any' },
      ...{ groupsClaim: 'groups', groups: { Audit: ['auditor'], 'Not told': [] } },
    };
    const people = Array.from({ length: 7 }, (_x, i) => ({ id: i + 1, name: `Person ${i + 1}` }));
    test.answers['GET /api/accounts/providers/3'] = {
      ...{ id: 3, issuer: 'https://login.example', content, hasSecret: true, madeAt: '2026-11-02T10:00:00Z' },
      ...{ stoppedAt: null, people: 7, keeping: null, kept: 0 },
      groups: [
        { id: 1, name: 'Audit', kept: true, changedAt: '2026-11-02T10:00:00Z', people },
        { id: 2, name: 'Crew', kept: false, changedAt: '2026-11-02T10:00:00Z', people: [] },
      ],
    };
    test.answers['GET /api/objects/provider/3'] = {
      ...{ content, revision: 1, editedBy: null, editedAt: null },
    };
    test.answers['GET /api/accounts/roles'] = {
      roles: [{ id: 'auditor', name: 'auditor', state: 'in force', allows: 20, own: false }],
      countedSince: null,
    };
    test.answers['GET /api/accounts/providers'] = { providers: [], redirect: 'x', scim: 'y' };
    test.answers['PUT /api/objects/provider/3'] = { revision: 2 };
    const user = show(<ProviderSheet id={3} />);
    const rows = within(await screen.findByRole('table'))
      .getAllByRole('row')
      .slice(1);
    expect(rows.map((r) => r.textContent)).toEqual([
      'AuditauditorPerson 1, Person 2, Person 3, Person 4, Person 5 and 2 more · kept',
      'Crewnothingnobody',
      'Not toldnothingnot told of yetTake out',
    ]);
    await user.click(screen.getByRole('button', { name: 'Take out Not told' }));
    await waitFor(() => expect(test.sent()).toHaveLength(1));
    expect(test.sent()[0]?.body).toMatchObject({ content: { groups: { Audit: ['auditor'] } } });
  });
});
