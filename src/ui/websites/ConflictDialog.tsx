import { noticeVocabulary, type NoticeContent } from '../../core/websites/notice.ts';
import { change, inWords, type Json } from '../../core/change.ts';
import type { EditConflict } from '../../server/websites/notices.ts';
import { Button } from '../parts/Button.tsx';
import { Dialog } from '../parts/Dialog.tsx';
import css from './websites.module.css';

/** Tells the second of two editors what the first saved, and lets them go on without losing anything. */
export function ConflictDialog({
  conflict,
  mine,
  onSettle,
}: {
  readonly conflict: EditConflict;
  readonly mine: NoticeContent;
  readonly onSettle: (content: NoticeContent) => void;
}) {
  const merged = conflict.merged as unknown as NoticeContent;
  const ownChanges = inWords(
    change(conflict.theirs as unknown as Json, conflict.merged),
    noticeVocabulary([]),
  );
  return (
    <Dialog
      title={`${conflict.editedBy ?? 'Someone'} saved this notice while you were editing`}
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
          <p className={css['leak']}>
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
        <div className={css['formActs']}>
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
