import type { BuiltIn } from '../detector/detector.ts';

export const EMAIL: BuiltIn = {
  kind: 'pattern',
  id: 'email',
  name: 'E-mail address',
  category: 'contact',
  source: 'RFC 5321, 4.1.2; RFC 6531',
  anchor: {
    by: 'pattern',
    pattern:
      "(?<![\\p{L}\\p{N}._%+-])(?<![\\p{L}\\p{N}]['’])(?<!://[^\\s/]{0,80})(?:[\\p{L}\\p{N}_](?:[\\p{L}\\p{N}._%+'’-]{0,62}[\\p{L}\\p{N}_+-])?)@(?:[\\p{L}\\p{N}](?:[\\p{L}\\p{N}-]{0,61}[\\p{L}\\p{N}])?\\.){1,6}\\p{L}{2,24}(?![\\p{L}\\p{N}]|\\.[\\p{L}\\p{N}]|@|:[~./\\w-]{0,80}/)",
  },
  start: 4.5,
  checks: [
    {
      check: 'does not match',
      pattern: '\\.\\.|@\\d+x\\.|\\.(?:png|jpe?g|gif|svg|webp|js|css|ts|json|md|html?)$',
      passes: 0,
      fails: 'drop',
    },
    {
      check: 'does not match',
      pattern:
        '^(?:no-?reply|do-?not-?reply|noreply|postmaster|mailer-daemon|hostmaster|abuse|webmaster)[@+]',
      passes: 0,
      fails: -2.5,
    },
  ],
  competes: true,
  mask: 'ends',
  examples: [
    'Write to ⟦tove.lindqvist@brindlestrait.example⟧ today',
    "VALUES (1, '⟦tove@brindlestrait.example⟧')",
    '<⟦osei+crew@mail.brindlestrait.example⟧>',
    'mailto:⟦jürgen@müller.example⟧',
    'E-Mail:⟦a.b-c@x-y.example⟧.',
  ],
  counterExamples: [
    '@brindle on the wall',
    'logo@2x.png',
    'user@localhost',
    'anna@',
    'a@b..example',
    'ssh git@host.example:group/path',
  ],
};
