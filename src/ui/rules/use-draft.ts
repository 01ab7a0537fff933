import { useStore } from '@nanostores/react';
import { useEffect, useMemo } from 'react';
import { useAccount } from '../desk/account-context.ts';
import {
  EditedDraft,
  without,
  type DraftShelf,
  type DraftState,
  type Saved,
  type Send,
} from './edited-draft.ts';
import { request } from '../desk/request.ts';
import { tell } from '../desk/toasts.ts';

export interface Draft<T> extends Omit<DraftState<T>, 'base' | 'history'> {
  readonly set: (content: T) => void;
  readonly undo: (() => void) | undefined;
  /** Goes on from this content, on top of what the other saved. */
  readonly settle: (content: T) => void;
  readonly revision: number;
  /** The content before the last change, where it was changed here. */
  readonly before: T | undefined;
}

const PREFIX = 'yare.draft.';
/** More than this a browser does not send for a page that is gone. */
const MOST_KEPT_ALIVE = 60_000;

/** Of one person: whoever signs in here next does not save what somebody else left. */
function shelfOf(account: number): DraftShelf {
  const keyOf = (path: string) => `${PREFIX}${account}${path}`;
  return {
    put: (path, edit) => {
      try {
        sessionStorage.setItem(keyOf(path), JSON.stringify(edit));
      } catch {
        // Full: it is still here, and asked for before the page goes away.
      }
    },
    take: (path) => {
      const text = sessionStorage.getItem(keyOf(path));
      return text === null ? undefined : (JSON.parse(text) as unknown);
    },
    drop: (path) => sessionStorage.removeItem(keyOf(path)),
  };
}

const send: Send<unknown> = (path, edit, leaving) =>
  request('PUT', path, edit, { keepalive: leaving && JSON.stringify(edit).length < MOST_KEPT_ALIVE });

/** Of every path that was opened in this window and has something unsaved, or is shown. */
const drafts = new Map<string, EditedDraft<unknown>>();

function draftOf<T>(account: number, path: string, saved: Saved<T>): EditedDraft<T> {
  const known = drafts.get(path) as EditedDraft<T> | undefined;
  if (known) return known;
  const made = new EditedDraft(path, saved, send as Send<T>, shelfOf(account));
  drafts.set(path, made as EditedDraft<unknown>);
  return made;
}

/** Whether only this window knows of it. */
function isPending(draft: EditedDraft<unknown>): boolean {
  const { saving, conflict } = draft.state.get();
  return saving === 'failed' || conflict !== undefined;
}

if (typeof window !== 'undefined') {
  window.addEventListener('pagehide', () => drafts.forEach((d) => d.flush(true)));
  window.addEventListener('beforeunload', (e) => {
    drafts.forEach((d) => d.flush(true));
    if ([...drafts.values()].some(isPending)) e.preventDefault();
  });
}

/**
 * The draft of a rule under edit, which takes `{ revision, base, content }` at `path`. It outlives the view: what is
 * unsaved when the view goes is saved then, and what could not be is found again.
 */
export function useDraft<T>(path: string, saved: Saved<T>): Draft<T> {
  const draft = draftOf(useAccount().id, path, saved);
  const { base, history, ...state } = useStore(draft.state);
  const last = history.at(-1);
  const { content } = state;
  const before = useMemo(() => last && without(content, last), [content, last]);
  useEffect(() => draft.read(saved), [draft, saved]);
  useEffect(
    () => () => {
      draft.flush();
      const { conflict } = draft.state.get();
      if (conflict)
        tell('An edit of yours waits: somebody else saved meanwhile. Come back to it to settle that.', {
          kind: 'trouble',
        });
      if (draft.isSettled) drafts.delete(path);
    },
    [draft, path],
  );
  return {
    ...state,
    set: (content) => draft.set(content),
    undo: history.length > 0 ? () => undo(draft) : undefined,
    settle: (content) => draft.settle(content),
    revision: base.revision,
    before,
  };
}

function undo(draft: { undo(): boolean }): void {
  if (!draft.undo())
    tell('What you changed was changed again since; it stays as it is.', { kind: 'trouble' });
}
