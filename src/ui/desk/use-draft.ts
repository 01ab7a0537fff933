import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import type { EditConflict } from '../../server/rules/rule-store.ts';
import { request, RequestError } from './request.ts';

const SAVE_AFTER_MS = 500;
const TRY_AGAIN_MS = 5000;

/** Where a rule's draft is saved, and what shows it. */
export interface DraftPlace<T> {
  /** Takes `{ revision, base, content }`. */
  readonly path: string;
  readonly saved: { readonly content: T; readonly revision: number };
  /** First parts of the queries to ask again after a save. */
  readonly shownBy: readonly (readonly string[])[];
}

export interface Draft<T> {
  readonly content: T;
  readonly set: (content: T) => void;
  readonly undo: (() => void) | undefined;
  readonly saving: 'saved' | 'saving' | 'unsaved' | 'failed';
  readonly conflict: EditConflict<T> | undefined;
  /** Goes on from this content, on top of what the other saved. */
  readonly settle: (content: T) => void;
  readonly error: RequestError | undefined;
  readonly revision: number;
  /** The content before the last change, where it was changed here. */
  readonly before: T | undefined;
}

/**
 * The draft under edit, saved shortly after each change. When someone else saved meanwhile, nothing is lost: `conflict`
 * holds both, and `settle` goes on from whichever content is chosen.
 */
export function useDraft<T>({ path, saved, shownBy }: DraftPlace<T>): Draft<T> {
  const client = useQueryClient();
  const [content, setContent] = useState(saved.content);
  const [base, setBase] = useState({ content: saved.content, revision: saved.revision });
  const [history, setHistory] = useState<readonly T[]>([]);
  const [saving, setSaving] = useState<Draft<T>['saving']>('saved');
  // One save at a time: a second would find the first's revision and take it for another's.
  const [flying, setFlying] = useState(false);
  const [conflict, setConflict] = useState<EditConflict<T> | undefined>();
  const [error, setError] = useState<RequestError | undefined>();
  const latest = useRef(content);
  latest.current = content;
  const shown = useRef(shownBy);
  shown.current = shownBy;
  // Another's save arrives while nothing of ours is unsaved: show it.
  useEffect(() => {
    if (saving !== 'saved' || saved.revision <= base.revision) return;
    setBase({ content: saved.content, revision: saved.revision });
    setContent(saved.content);
    setHistory([]);
  }, [saved, base.revision, saving]);
  useEffect(() => {
    if (saving !== 'unsaved' || conflict || flying) return;
    const timer = setTimeout(() => void save(), SAVE_AFTER_MS);
    const save = async () => {
      const sent = latest.current;
      setSaving('saving');
      setFlying(true);
      try {
        const { revision } = await request<{ revision: number }>('PUT', path, {
          revision: base.revision,
          base: base.content,
          content: sent,
        });
        setBase({ content: sent, revision });
        setError(undefined);
        setSaving(latest.current === sent ? 'saved' : 'unsaved');
        for (const queryKey of shown.current) await client.invalidateQueries({ queryKey });
      } catch (e) {
        if (e instanceof RequestError && e.status === 409 && e.refusal.detail)
          setConflict(e.refusal.detail as EditConflict<T>);
        else if (e instanceof RequestError) setError(e);
        setSaving('failed');
      } finally {
        setFlying(false);
      }
    };
    return () => clearTimeout(timer);
  }, [saving, content, base, conflict, flying, path, client]);
  // What was refused waits for an edit; what did not arrive is sent again.
  const lost = saving === 'failed' && error !== undefined && (error.status === 0 || error.status >= 500);
  useEffect(() => {
    if (!lost) return;
    const timer = setTimeout(() => setSaving('unsaved'), TRY_AGAIN_MS);
    return () => clearTimeout(timer);
  }, [lost]);
  useEffect(() => {
    if (saving === 'saved') return;
    const keep = (e: BeforeUnloadEvent) => e.preventDefault();
    window.addEventListener('beforeunload', keep);
    return () => window.removeEventListener('beforeunload', keep);
  }, [saving]);
  const change = (next: T) => {
    setContent(next);
    setSaving('unsaved');
  };
  return {
    content,
    set: (next) => {
      setHistory([...history.slice(-49), content]);
      change(next);
    },
    undo: history.length
      ? () => {
          change(history.at(-1) as T);
          setHistory(history.slice(0, -1));
        }
      : undefined,
    saving,
    conflict,
    settle: (next) => {
      if (!conflict) return;
      setBase({ content: conflict.theirs, revision: conflict.revision });
      setConflict(undefined);
      change(next);
    },
    error,
    revision: base.revision,
    before: history.at(-1),
  };
}
