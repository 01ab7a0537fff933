import { EVERYONE, groupMark } from '../../src/core/accounts/staff/audience.ts';
import { parseLens } from '../../src/core/lens/lens-text.ts';
import { newLevel, type LevelContent } from '../../src/core/protection/levels/level-content.ts';
import type { LevelRuleContent } from '../../src/core/protection/rules/level-rule.ts';
import type { PublicationContent } from '../../src/core/protection/publishing/publication.ts';
import { addProgram } from '../../src/server/accounts/programs/program.ts';
import { addLevel, LEVEL } from '../../src/server/protection/levels/levels.ts';
import { addPublication, PUBLICATION } from '../../src/server/protection/publishing/publications.ts';
import { addLevelRule, LEVEL_RULE } from '../../src/server/protection/rules/level-rules.ts';
import { standinToken } from '../../standins/token.ts';
import type { DemoArea } from '../demo.ts';
import { line } from '../ledger.ts';
import { stand, type DemoState } from '../stand.ts';
import { loadMotion } from './motion.ts';

type Of<T> = readonly [name: string, more: Partial<T>];

const top = (text: string, colour: string, size = 12) => ({ text, size, align: 'centre' as const, colour });
const foot = (text: string, colour: string) => ({ text, size: 9, align: 'centre' as const, colour });

/** The weakest first, as they are added. */
const LEVELS: readonly Of<LevelContent>[] = [
  [
    'Open',
    {
      means: 'Anyone may have it: timetables, fares, what stands on our websites',
      colour: '#6b7a80',
      goesOn: ['files', 'mail', 'invitations'],
      lowered: 'freely',
      foot: foot('', '#6b7a80'),
    },
  ],
  [
    'Internal',
    {
      means: 'For those who work here; nobody outside needs it',
      colour: '#2f5d69',
      goesOn: ['files', 'mail', 'invitations'],
      foot: foot('{level} · Brindle Strait Ferries', '#2f5d69'),
    },
  ],
  [
    'Confidential',
    {
      means: 'Harms people or the line if it gets out',
      stewards:
        'Names with what they booked, where they live or what they earn; contracts; incident reports before they are settled.',
      colour: '#8a5a00',
      goesOn: ['files', 'mail', 'invitations'],
      top: top('{level} · {owner}', '#8a5a00'),
      foot: foot('', '#8a5a00'),
      across: { text: '{level}', size: 64, angle: 40, colour: '#e6d9bd' },
    },
  ],
  [
    'Strictly confidential',
    {
      means: 'Harms people badly: health, children, cards, what the police asks for',
      stewards: 'Opened by those named for it. Never sent outside without Ines Abara knowing.',
      colour: '#7a1431',
      goesOn: ['files', 'mail'],
      lowered: 'never',
      top: top('{level}', '#7a1431', 13),
      foot: foot('{level} · {owner} · {date}', '#7a1431'),
      across: { text: '{level}', size: 56, angle: 40, colour: '#e6c6cf' },
    },
  ],
];

interface DemoRule {
  readonly content: Omit<LevelRuleContent, 'level' | 'lens'>;
  readonly level: string;
  readonly where: string;
  readonly state: DemoState;
  readonly daysAgo: number;
}
const rule = (
  name: string,
  level: string,
  where: string,
  state: DemoState,
  daysAgo: number,
  because: string,
  { keeps = 'step', how = 'set' }: Partial<Pick<LevelRuleContent, 'keeps' | 'how'>> = {},
): DemoRule => ({ content: { name, how, keeps, because }, level, where, state, daysAgo });

const RULES: readonly DemoRule[] = [
  rule(
    'Everything on shares',
    'internal',
    'format one of "DOCX", "XLSX", "PPTX"',
    'in force',
    24,
    'Nobody outside should take an unmarked file for one that may go round.',
  ),
  rule(
    'People by the dozen',
    'confidential',
    'people at least 12',
    'in force',
    22,
    'A list of people is worth more to a thief than a letter.',
  ),
  rule(
    'Assistance on board',
    'strictly-confidential',
    'document one of "assistance-request"',
    'in force',
    21,
    'Data concerning health, Art. 9 GDPR.',
  ),
  rule(
    'Health notes in manifests',
    'strictly-confidential',
    'data one of "health-condition" and document one of "boarding-manifest"',
    'rehearsing',
    4,
    'Data concerning health, Art. 9 GDPR.',
  ),
  rule(
    'Payment cards, 5 or more',
    'strictly-confidential',
    'matches:payment-card at least 5',
    'rehearsing',
    3,
    'What the card schemes ask of us.',
  ),
  rule(
    'Incident reports',
    'confidential',
    'document one of "incident-report"',
    'paused',
    15,
    'They are settled in court, not in the papers.',
    { keeps: 'set' },
  ),
  rule(
    'Card numbers in mail',
    'confidential',
    'data one of "payment-card" and format one of "mail"',
    'in force',
    6,
    'Who was written to knows best whether the number is still needed.',
    { how: 'propose' },
  ),
  rule('Rosters of the crew', 'internal', 'document one of "crew-list"', 'draft', 1, ''),
];

const publication = (content: PublicationContent, state: DemoState, daysAgo: number) => ({
  content,
  state,
  daysAgo,
});

const PUBLICATIONS = [
  publication(
    {
      name: 'Who works here',
      levels: ['open', 'internal', 'confidential'],
      to: [EVERYONE],
      not: [groupMark('Guests')],
      first: 'weakest',
      start: 'internal',
      because: 'Everyone marks what they write.',
    },
    'in force',
    28,
  ),
  publication(
    {
      name: 'Crew office and payroll',
      levels: ['internal', 'confidential', 'strictly-confidential'],
      to: [groupMark('Crew office')],
      not: [],
      first: 'strongest',
      start: 'confidential',
      because: 'Certificates and pay are about health and money.',
    },
    'in force',
    26,
  ),
  publication(
    {
      name: 'Terminals, for assistance requests',
      levels: ['strictly-confidential'],
      to: [groupMark('Port operations'), groupMark('Passenger care')],
      not: [groupMark('Trainees')],
      first: 'weakest',
      start: 'internal',
      because: 'They take requests that tell of health.',
    },
    'rehearsing',
    5,
  ),
] as const;

/** Four levels, and eight rules in every state; to whom they are published; what is held is brought to them once it is surveyed. */
export const PROTECTION: DemoArea = {
  area: 'protection',
  async load(demo) {
    const { tx, lines } = demo;
    const officer = demo.person('Ines Abara');
    const steward = demo.person('Osei Darko');
    for (const [i, [name, more]] of LEVELS.entries()) {
      const when = demo.at(40 - i);
      const content = { ...newLevel(name), ...more };
      const id = await addLevel(tx, when, officer, content);
      lines.push(line(when, officer, 'level.add', 'level', id, { name }));
      await stand(demo, LEVEL, id, content, 'in force', demo.at(30), officer);
    }
    for (const { content: rest, level, where, state, daysAgo } of RULES) {
      const when = demo.at(daysAgo);
      const content: LevelRuleContent = { ...rest, level, lens: parseLens(where) };
      const id = await addLevelRule(tx, when, steward, content);
      lines.push(line(when, steward, 'level-rule.add', 'level rule', id, { name: rest.name }));
      await stand(demo, LEVEL_RULE, id, content, state, when, officer);
    }
    for (const { content, state, daysAgo } of PUBLICATIONS) {
      const when = demo.at(daysAgo);
      const id = await addPublication(tx, when, steward, content);
      lines.push(line(when, steward, 'publication.add', 'publication', id, { name: content.name }));
      await stand(demo, PUBLICATION, id, content, state, when, officer);
    }
    await addProgram(
      tx,
      demo.at(27),
      officer,
      { name: 'Office of the ferry line (editor and mail)', scope: 'levels' },
      standinToken(demo.ctx.settings.SECRET_KEY, 'office'),
    );
    await loadMotion(demo);
    await tx.run('UPDATE level_policy SET content = ? WHERE id = 1', [
      JSON.stringify({ byItself: 'after each survey', keepDays: 60 }),
    ]);
  },
};
