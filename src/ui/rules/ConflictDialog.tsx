import { change, inWords, type Json, type Vocabulary } from '../../core/rules/change.ts';
import type { EditConflict } from '../../server/rules/edit-conflict.ts';
import { Button } from '../parts/Button.tsx';
import { Dialog } from '../parts/Dialog.tsx';
import css from './ConflictDialog.module.css';

/** Tells the second of two editors what the first saved, and lets them go on without losing anything. */
export function ConflictDialog<T>({
  what,
  vocabulary,
  conflict,
  mine,
  onSettle,
}: {
  /** The rule both edited, such as notice. */
  readonly what: string;
  readonly vocabulary: Vocabulary;
  readonly conflict: EditConflict<T>;
  readonly mine: T;
  readonly onSettle: (content: T) => void;
}) {
  const merged = conflict.merged as unknown as T;
  const ownChanges = inWords(change(conflict.theirs as Json, conflict.merged), vocabulary);
  return (
    <Dialog
      title={`${conflict.editedBy ?? 'Someone'} saved this ${what} while you were editing`}
      onClose={() => onSettle(merged)}
    >
      <div className={css['form']}>
        <p>They changed:</p>
        <ul className={css['changes']}>
          {conflict.theirChanges.map((c) => (
            <li key={c}>{c}</li>
          ))}
        </ul>
        {conflict.collisions.length > 0 ? (
          <p className={css['trouble']}>
            ◆ You both changed: {conflict.collisions.join(', ')}. Keeping both takes yours there.
          </p>
        ) : (
          <p>Your changes are to other parts, so both can stand.</p>
        )}
        {ownChanges.length > 0 && (
          <>
            <p>Of yours, on top of theirs:</p>
            <ul className={css['changes']}>
              {ownChanges.map((c) => (
                <li key={c}>{c}</li>
              ))}
            </ul>
          </>
        )}
        <div className={css['acts']}>
          <Button kind="primary" autoFocus onClick={() => onSettle(merged)}>
            Keep both
          </Button>
          <Button onClick={() => onSettle(conflict.theirs)}>Take theirs</Button>
          <Button onClick={() => onSettle(mine)}>Put mine over theirs</Button>
        </div>
      </div>
    </Dialog>
  );
}
