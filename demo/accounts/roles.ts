import { builtInActions } from '../../src/core/accounts/roles/permissions.ts';
import { newOwnRole, type OwnRole } from '../../src/core/accounts/roles/own-role.ts';
import type { Action } from '../../src/core/accounts/action.ts';
import { addRole, ROLE } from '../../src/server/accounts/roles/role-rule.ts';
import { toDatetime } from '../../src/server/store/columns.ts';
import type { Demo } from '../demo.ts';
import { line } from '../ledger.ts';
import { stand } from '../stand.ts';
import { PEOPLE } from './people.ts';

interface OwnRoleOfDemo {
  readonly name: string;
  readonly task: string;
  readonly actions: readonly Action[];
  readonly state: 'in force' | 'draft';
  readonly daysAgo: number;
  readonly holders: readonly string[];
}

const OWN: readonly OwnRoleOfDemo[] = [
  {
    name: 'Reads the ledger',
    task: 'Shows the harbour authority what was done, and changes nothing',
    actions: ['today.read', 'ledger.read', 'ledger.export'],
    ...{ state: 'in force', daysAgo: 64, holders: ['Osei Darko'] },
  },
  {
    name: 'Looks up who reaches what',
    task: 'Answers “who can open this?” at the help desk',
    actions: ['today.read', 'access.read', 'staff.read'],
    ...{ state: 'in force', daysAgo: 41, holders: ['Magnus Reyer', 'Lotte Bruun'] },
  },
  {
    name: 'Surveys before the audit',
    task: 'Surveys systems that the auditors ask about, for the month of the audit',
    actions: ['holdings.survey', 'holdings.sources'],
    ...{ state: 'draft', daysAgo: 3, holders: [] },
  },
];

/** What nobody but the officer ever needed. */
const NEVER_USED: readonly Action[] = [
  'holdings.reveal',
  'holdings.put-in-force',
  'websites.put-in-force',
  'consent.export',
  'ledger.export',
  'programs.edit',
  'staff.edit',
  'retention.hold',
  'access.sources',
];

/** Roles of the ferry line's own, and four months of what people did with theirs. */
export async function demoRoles(demo: Demo): Promise<void> {
  const { tx, lines } = demo;
  const officer = demo.person('Ines Abara');
  for (const { name, task, actions, state, daysAgo, holders } of OWN) {
    const when = demo.at(daysAgo);
    const content: OwnRole = { ...newOwnRole(name, actions), task };
    const id = await addRole(tx, when, officer, content);
    lines.push(line(when, officer, 'role.add', 'role', id, { name }));
    if (state === 'in force') await stand(demo, ROLE, id, content, state, when, officer);
    for (const holder of holders) {
      const account = demo.person(holder);
      await tx.run('INSERT INTO account_role (account_id, role, given_by, given_at) VALUES (?, ?, ?, ?)', [
        ...[account, id, officer, toDatetime(when)],
      ]);
      lines.push(
        line(when, officer, 'account roles.edit', 'account roles', account, {
          words: [`Roles: ${name} given`],
        }),
      );
    }
  }
  await tx.run('INSERT INTO permission_use (account_id, action, first_on, last_on, days) VALUES ?', [
    PEOPLE.flatMap((p) =>
      builtInActions(p.role)
        .filter((a) => p.role === 'officer' || !NEVER_USED.includes(a))
        .map((a, i) => [
          ...[demo.person(p.name), a, day(demo.at(118 - (i % 7)))],
          ...[day(demo.at((i * 5 + p.name.length) % 23)), 8 + ((i * 11) % 60)],
        ]),
    ),
  ]);
}

const day = (at: Date) => at.toISOString().slice(0, 10);
