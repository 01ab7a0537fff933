// @vitest-environment jsdom
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it } from 'vitest';
import { AUDITOR, sheetTest } from '../../../../tests/sheet.tsx';
import { builtIn } from '../../../core/accounts/roles/held-role.ts';
import type { Account } from '../../../core/accounts/authority.ts';
import { InterfaceSheet } from '../interface/InterfaceSheet.tsx';
import { schemaWords } from '../interface/use-interface.ts';
import { HookSheet } from './HookSheet.tsx';
import { ProgramsSheet } from './ProgramsSheet.tsx';
import type { Token } from './use-programs.ts';

const test = sheetTest('/account/programs');
const OFFICER: Account = {
  ...{ id: 1, email: 'ines@b.example', name: 'Ines Abara', title: '', roles: [builtIn('officer')] },
};
const token = (more: Partial<Token> = {}): Token => ({
  ...{ id: 4, accountId: 1, account: 'Ines Abara', name: 'Night', actions: ['holdings.read'] },
  ...{ madeAt: '2026-12-01T09:00:00Z', endsAt: '2099-12-01T09:00:00Z', usedAt: null, endedAt: null },
  ...more,
});
beforeEach(() => {
  window.history.replaceState(null, '', '/account/programs');
  test.answers['GET /api/accounts/tokens'] = [];
  test.answers['GET /api/accounts/hooks'] = {
    hooks: [],
    kinds: [
      { kind: 'incident', words: 'incident' },
      { kind: 'site', words: 'website' },
    ],
  };
});

describe('programs', () => {
  it('tell each token: whose, what it may, until when; only one in force can be ended', async () => {
    test.answers['GET /api/accounts/tokens'] = [
      token(),
      token({
        id: 5,
        name: '<b>Old</b>',
        accountId: 2,
        account: 'Emil Varga',
        endedAt: '2026-12-01T10:00:00Z',
      }),
      token({ id: 6, name: 'Wide', actions: ['holdings.read', 'access.read', 'cases.read', 'today.read'] }),
    ];
    test.answers['DELETE /api/accounts/tokens/4'] = { done: true };
    const user = userEvent.setup();
    test.show(<ProgramsSheet account={OFFICER} />);
    const rows = within(await screen.findByRole('table'))
      .getAllByRole('row')
      .slice(1);
    expect(rows[0]?.textContent).toContain('you');
    expect(rows[1]?.textContent).toMatch(/<b>Old<\/b>Emil Varga.*ended/);
    expect(rows[2]?.textContent).toContain('and 2 more');
    expect(screen.queryByRole('button', { name: 'End <b>Old</b>' })).toBeNull();
    await user.click(screen.getByRole('button', { name: 'End Night' }));
    await waitFor(() => expect(test.sent()).toHaveLength(1));
  });

  it('offer an auditor nothing to make or end, and show what there is', async () => {
    test.answers['GET /api/accounts/tokens'] = [token()];
    test.show(<ProgramsSheet account={AUDITOR} />, AUDITOR);
    await screen.findByText('Night');
    expect(screen.queryByRole('button', { name: /Make a token|End|Tell a webhook/ })).toBeNull();
  });

  it('show a token once, and keep a refusal beside its field', async () => {
    window.history.replaceState(null, '', '/account/programs?new=token');
    const user = userEvent.setup();
    test.show(<ProgramsSheet account={OFFICER} />);
    await screen.findByText(/It acts as you, and may do/);
    test.answers['POST /api/accounts/tokens'] = { id: 7, token: 'yt_shown-once' };
    await user.type(screen.getByLabelText('What it is called'), 'Night');
    await user.click(screen.getByRole('button', { name: 'Make it' }));
    await screen.findByText('yt_shown-once');
    const sent = test.sent()[0]?.body as { actions: string[]; days: number };
    expect(sent).toMatchObject({ name: 'Night', days: 90 });
    expect(sent.actions.length).toBeGreaterThan(10);
    expect(sent.actions.every((a) => a.endsWith('.read'))).toBe(true);
  });

  it('tell a webhook of the kinds that are chosen, and show the secret once', async () => {
    window.history.replaceState(null, '', '/account/programs?new=hook');
    test.answers['POST /api/accounts/hooks'] = { id: 7, secret: 'its-secret' };
    const user = userEvent.setup();
    test.show(<ProgramsSheet account={OFFICER} />);
    await user.type(await screen.findByLabelText('What it is called'), 'House');
    await user.type(screen.getByLabelText('Where it is'), 'https://house.example/in');
    await user.click(screen.getByRole('button', { name: /^What it is told of: everything/ }));
    await user.click(await screen.findByRole('option', { name: /incident/ }));
    await user.keyboard('{Escape}');
    await user.click(screen.getByRole('button', { name: 'Tell it' }));
    await screen.findByText('its-secret');
    expect(test.sent()[0]?.body).toEqual({
      ...{ name: 'House', url: 'https://house.example/in', events: ['incident'] },
    });
  });
});

describe('a webhook', () => {
  const call = (id: number, state: string, more: object = {}) => ({
    ...{ id, state, attempts: 1, error: null, entry: '9', queuedAt: '2026-12-01T09:00:00Z' },
    ...{ endedAt: null, nextAt: null, ...more },
  });
  it('says of each call what became of it; what failed is sent again', async () => {
    test.answers['GET /api/accounts/hooks/3'] = {
      hook: {
        ...{ id: 3, name: 'House', url: 'https://house.example/in', events: [], paused: 'Nobody.' },
        ...{ madeAt: '2026-12-01T09:00:00Z', madeBy: 'Ines Abara', stoppedAt: null },
      },
      calls: [
        call(1, 'sent', { endedAt: '2026-12-01T09:00:01Z' }),
        call(2, 'failed', { error: 'It answered 400.', attempts: 1 }),
        call(3, 'sent', { entry: null, endedAt: '2026-12-01T09:00:01Z' }),
      ],
    };
    test.answers['POST /api/accounts/hooks/3/again'] = { done: true };
    const user = userEvent.setup();
    test.show(<HookSheet id={3} />);
    await screen.findByText('◆ Nobody.');
    const rows = within(screen.getByRole('table')).getAllByRole('row').slice(1);
    expect(rows[0]?.textContent).toContain('○ taken');
    expect(rows[1]?.textContent).toContain('◆ It answered 400.');
    expect(rows[2]?.textContent).toContain('a trial');
    await user.click(screen.getByRole('button', { name: 'Again' }));
    await waitFor(() => expect(test.sent()[0]?.body).toEqual({ call: 2 }));
  });
});

describe('the interface', () => {
  it('is filtered by words, and asks with what the path takes', async () => {
    test.answers['GET /api/openapi.json'] = {
      paths: {
        '/api/a/{id}': {
          get: {
            ...{ operationId: 'getAId', tags: ['a'], summary: 'One of them.' },
            parameters: [{ name: 'id', in: 'path', required: true, schema: { type: 'integer' } }],
            responses: { '200': { content: { 'application/json': { schema: { $ref: '#/x/Thing' } } } } },
          },
        },
        '/api/b': {
          get: {
            operationId: 'getB',
            tags: ['b'],
            summary: 'Others.',
            parameters: [],
            responses: { '200': {} },
          },
        },
      },
      components: { schemas: { Thing: { type: 'object', properties: { n: { type: 'number' } } } } },
    };
    test.answers['GET /api/a/7'] = { n: 3 };
    const user = userEvent.setup();
    test.show(<InterfaceSheet />);
    await user.type(await screen.findByRole('searchbox'), 'one of');
    expect(screen.queryByText('Others.')).toBeNull();
    await user.click(screen.getByRole('button', { name: 'GET /api/a/{id}' }));
    const ask = await screen.findByRole<HTMLButtonElement>('button', { name: 'Ask it' });
    expect(ask.disabled).toBe(true);
    expect(screen.getByText(/It answers \{ n\?: number \}/)).toBeTruthy();
    await user.type(screen.getByLabelText('id'), '7');
    await user.click(ask);
    await screen.findByText(/^○ 200/);
  });

  it('says shapes in words, opened once, and comes to an end in those that hold themselves', () => {
    const schemas = {
      Node: { type: 'object', properties: { below: { type: 'array', items: { $ref: '#/x/Node' } } } },
    };
    const table: [object, string][] = [
      [{ type: 'string' }, 'text'],
      [{ enum: ['a', 1] }, '"a" or 1'],
      [{ anyOf: [{ type: 'string' }, { type: 'null' }] }, 'text or nothing'],
      [{ type: 'array', items: { type: 'integer' } }, 'list of whole number'],
      [{ $ref: '#/x/Node' }, '{ below?: list of Node }'],
      [{}, 'anything'],
    ];
    for (const [schema, words] of table) expect(schemaWords(schema as never, schemas)).toBe(words);
  });
});
