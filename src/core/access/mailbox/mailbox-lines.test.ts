import { describe, expect, it } from 'vitest';
import { asked, type Line } from '../../../../tests/access-estates.ts';
import { mailboxLines, type MailFolder, type MailServer } from './mailbox-lines.ts';

const SERVER: MailServer = { source: 'mail', user: 'desk', entries: 'nearest' };

type Entries = NonNullable<MailFolder['entries']>;

/** What each can do with the folder Care, with `nina` who has no entry. */
function strengths(entries: Entries, how: MailServer['entries'] = 'nearest') {
  const folder = { path: 'Care', mine: 'lrswitea', entries };
  const lines: Line[] = [...mailboxLines({ ...SERVER, entries: how }, [folder])];
  const people = lines.flatMap((l) => (l['type'] === 'person' ? [String(l['id'])] : []));
  const { pair } = asked([...lines, { type: 'person', id: 'nina' }]);
  return Object.fromEntries([...people, 'nina'].map((p) => [p, pair(p, 'mail:Care').strength]));
}

describe('what a server tells of a folder', () => {
  it.each<readonly [string, Entries, Readonly<Record<string, string | null>>]>([
    ['nobody but who reads it', [], { nina: null }],
    ['to see it', [['tove', 'l']], { tove: 'see', nina: null }],
    ['to read it', [['tove', 'lrs']], { tove: 'read' }],
    ['to mark what was seen, and post to it', [['tove', 'lsp']], { tove: 'see' }],
    ...['w', 'i', 't', 'e', 'k', 'x', 'd', 'c'].map(
      (letter) => [`to change it (${letter})`, [['tove', `lr${letter}`]], { tove: 'change' }] as const,
    ),
    ['to give it to others', [['tove', 'lra']], { tove: 'give' }],
    ['everybody', [['anyone', 'lr']], { nina: 'read' }],
    [
      'everybody who signs in, in the place of anyone',
      [
        ['anyone', 'lri'],
        ['authenticated', 'l'],
      ],
      { nina: 'see' },
    ],
    [
      'one less than everybody',
      [
        ['anyone', 'lri'],
        ['tove', 'l'],
      ],
      { tove: 'see', nina: 'change' },
    ],
    [
      'one more than everybody',
      [
        ['anyone', 'l'],
        ['tove', 'lri'],
      ],
      { tove: 'change', nina: 'see' },
    ],
    [
      'one without what everybody has',
      [
        ['anyone', 'lr'],
        ['-tove', 'r'],
      ],
      { tove: 'see', nina: 'read' },
    ],
    [
      'one without some of their own',
      [
        ['tove', 'lri'],
        ['-tove', 'i'],
      ],
      { tove: 'read' },
    ],
    [
      'nothing to one',
      [
        ['anyone', 'lr'],
        ['-tove', 'lr'],
      ],
      { tove: null, nina: 'read' },
    ],
    ['the owner', [['owner', 'lrsa']], { desk: 'give' }],
  ])('%s', (_, entries, expected) => {
    expect(strengths(entries)).toMatchObject({ desk: 'give', ...expected });
  });

  it('adds up where a server has it so', () => {
    expect(
      strengths(
        [
          ['anyone', 'lri'],
          ['tove', 'l'],
        ],
        'all',
      ),
    ).toMatchObject({ tove: 'change' });
    expect(
      strengths(
        [
          ['anyone', 'lr'],
          ['authenticated', 'li'],
        ],
        'all',
      ),
    ).toMatchObject({ nina: 'change' });
    expect(
      strengths(
        [
          ['anyone', 'lr'],
          ['-tove', 'r'],
        ],
        'all',
      ),
    ).toMatchObject({ tove: 'see', nina: 'read' });
  });

  it('is unknown where groups are given something, or nothing is told', () => {
    const lines = mailboxLines(SERVER, [
      {
        path: 'Care',
        mine: 'lra',
        entries: [
          ['$clerks', 'lr'],
          ['!$night', 'l'],
          ['tove', 'l'],
        ],
      },
      { path: 'shared/tove/Plans', mine: 'lr' },
    ]);
    const { pair } = asked([...lines, { type: 'person', id: 'nina' }]);
    expect(pair('nina', 'mail:Care').unknown).toContain('clerks, night');
    expect(pair('nina', 'mail:shared/tove/Plans').unknown).toContain('only to who may give it');
    expect(pair('desk', 'mail:shared/tove/Plans').strength).toBe('read');
  });

  it('is unknown where one has less than everybody, and more besides', () => {
    const entries: Entries = [
      ['anyone', 'lri'],
      ['-tove', 'r'],
    ];
    const { pair } = asked([...mailboxLines(SERVER, [{ path: 'Care', mine: 'lra', entries }])]);
    expect(pair('tove', 'mail:Care')).toMatchObject({ strength: 'change' });
    expect(pair('tove', 'mail:Care').unknown).toContain('tove');
  });

  it('stands in the folder above, the nearest that there is, and takes nothing from it', () => {
    const lines = mailboxLines(SERVER, [
      { path: 'Care', mine: 'lra', entries: [['tove', 'lr']] },
      { path: 'Care/2025/July', mine: 'lra', entries: [] },
    ]);
    const { pair } = asked([...lines]);
    const at = lines.find((l) => l.type === 'place' && l.id === 'mail:Care/2025/July');
    expect(at).toMatchObject({ parent: 'mail:Care', name: 'July', inherits: false });
    expect(pair('tove', 'mail:Care/2025/July').strength).toBeNull();
    expect(lines.filter((l) => l.type === 'person').map((l) => l.id)).toEqual(['desk', 'tove']);
  });
});
