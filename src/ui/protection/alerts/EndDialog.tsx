import type { AlertAct } from '../../../core/protection/alerts/alert.ts';
import { WordsDialog, type WordsAsked } from '../../parts/WordsDialog.tsx';

export type Noted = Extract<AlertAct['act'], 'solve' | 'set aside' | 'open again' | 'note'>;

const ASKS: Readonly<Record<Noted, WordsAsked>> = {
  solve: {
    ...{ title: 'Solved', label: 'What was done about it', act: 'It is solved' },
    hint: 'Talked to him; the list is off the stick.',
  },
  'set aside': {
    ...{ title: 'Set aside', label: 'Why it was none', act: 'Set it aside' },
    hint: 'A fire drill; it never counts as solved.',
  },
  'open again': { title: 'Open again', label: 'Why', act: 'Open it again', hint: 'It happened again.' },
  note: { title: 'Note', label: 'For the timeline', act: 'Note it', hint: 'Waiting for the port office.' },
};

/** Asks for the words that go with an act on alerts. */
export function EndDialog({
  does,
  send,
  onClose,
}: {
  readonly does: Noted;
  readonly send: (act: AlertAct) => Promise<unknown>;
  readonly onClose: () => void;
}) {
  return (
    <WordsDialog
      asks={ASKS[does]}
      most={1000}
      fields={['does.note', 'act.note']}
      send={(note) => send({ act: does, note })}
      onClose={onClose}
    />
  );
}
