import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import type { NoticeContent } from '../../core/websites/notice.ts';
import type { EditConflict } from '../../server/websites/notices.ts';
import { request, RequestError } from '../desk/request.ts';
import type { NoticeWithVersions } from './use-notice.ts';

const SAVE_AFTER_MS = 500;
const TRY_AGAIN_MS = 5000;

export interface Draft {
  readonly content: NoticeContent;
  readonly set: (content: NoticeContent) => void;
  readonly undo: (() => void) | undefined;
  readonly saving: 'saved' | 'saving' | 'unsaved' | 'failed';
  readonly conflict: EditConflict | undefined;
  /** Goes on from this content, on top of what the other saved. */
  readonly settle: (content: NoticeContent) => void;
  readonly error: RequestError | undefined;
  readonly revision: number;
}

/**
 * The draft under edit, saved shortly after each change. When someone else saved meanwhile, nothing is lost: `conflict`
 * holds both, and `settle` goes on from whichever content is chosen.
 */
export function useDraft(host: string, notice: NoticeWithVersions): Draft {
  const client = useQueryClient();
  const [content, setContent] = useState(notice.content);
  const [base, setBase] = useState({ content: notice.content, revision: notice.revision });
  const [history, setHistory] = useState<readonly NoticeContent[]>([]);
  const [saving, setSaving] = useState<Draft['saving']>('saved');
  // One save at a time: a second would find the first's revision and take it for another's.
  const [flying, setFlying] = useState(false);
  const [conflict, setConflict] = useState<EditConflict | undefined>();
  const [error, setError] = useState<RequestError | undefined>();
  const latest = useRef(content);
  latest.current = content;
  // Another's save arrives while nothing of ours is unsaved: show it.
  useEffect(() => {
    if (saving !== 'saved' || notice.revision <= base.revision) return;
    setBase({ content: notice.content, revision: notice.revision });
    setContent(notice.content);
    setHistory([]);
  }, [notice, base.revision, saving]);
  useEffect(() => {
    if (saving !== 'unsaved' || conflict || flying) return;
    const timer = setTimeout(() => void save(), SAVE_AFTER_MS);
    const save = async () => {
      const sent = latest.current;
      setSaving('saving');
      setFlying(true);
      try {
        const { revision } = await request<{ revision: number }>(
          'PUT',
          `/api/websites/${encodeURIComponent(host)}/notice`,
          { revision: base.revision, base: base.content, content: sent },
        );
        setBase({ content: sent, revision });
        setError(undefined);
        setSaving(latest.current === sent ? 'saved' : 'unsaved');
        await client.invalidateQueries({ queryKey: ['notice', host] });
        await client.invalidateQueries({ queryKey: ['site-soundings', host] });
      } catch (e) {
        if (e instanceof RequestError && e.status === 409 && e.refusal.detail)
          setConflict(e.refusal.detail as EditConflict);
        else if (e instanceof RequestError) setError(e);
        setSaving('failed');
      } finally {
        setFlying(false);
      }
    };
    return () => clearTimeout(timer);
  }, [saving, content, base, conflict, flying, host, client]);
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
  const change = (next: NoticeContent) => {
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
          change(history.at(-1) as NoticeContent);
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
  };
}
