import type { SentenceLine } from './sentence.ts';

/** The line of a rule that gives its reason, at `because` in its content; at most 400 characters. */
export const BECAUSE_LINE: SentenceLine = {
  label: 'Because',
  parts: [
    {
      path: ['because'],
      label: 'Because',
      say: (words) => (words === '' ? 'no reason is given' : String(words)),
      editor: { kind: 'text', most: 400, long: true },
    },
  ],
};
