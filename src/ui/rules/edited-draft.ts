import { atom } from 'nanostores';
import { apply, change, invert, type Change, type Json } from '../../core/rules/change.ts';
import type { EditConflict } from '../../server/rules/edit-conflict.ts';
import { RequestError } from '../desk/request-error.ts';

const SAVE_AFTER_MS = 500;
const TRY_AGAIN_MS = 5000;
const MOST_STEPS = 50;

export interface Saved<T> {
  readonly content: T;
  readonly revision: number;
}

export interface Edit<T> {
  readonly revision: number;
  readonly base: T;
  readonly content: T;
}

export interface DraftState<T> {
  readonly content: T;
  /** What it stands on: as it was saved last, or read. */
  readonly base: Saved<T>;
  /** What was changed here, the latest last. */
  readonly history: readonly Change[];
  readonly saving: 'saved' | 'saving' | 'unsaved' | 'failed';
  /** Somebody else saved meanwhile; nothing goes on until it is settled. */
  readonly conflict: EditConflict<T> | undefined;
  readonly error: RequestError | undefined;
}

/** Keeps what is not saved yet where a reload finds it. */
export interface DraftShelf {
  put(path: string, edit: unknown): void;
  take(path: string): unknown;
  drop(path: string): void;
}

export type Send<T> = (path: string, edit: Edit<T>, leaving: boolean) => Promise<{ revision: number }>;

/**
 * A draft under edit, saved shortly after each change. It lives apart from what shows it: leaving saves it at once, a
 * save that did not arrive is sent again, and what was refused or collides is there when one comes back.
 */
export class EditedDraft<T> {
  readonly state;
  #timer: ReturnType<typeof setTimeout> | undefined;
  #flying = false;

  constructor(
    readonly path: string,
    saved: Saved<T>,
    readonly send: Send<T>,
    readonly shelf: DraftShelf,
  ) {
    const kept = shelf.take(path) as Edit<T> | undefined;
    this.state = atom<DraftState<T>>({
      content: kept ? kept.content : saved.content,
      base: kept ? { content: kept.base, revision: kept.revision } : saved,
      history: kept ? [between(kept.base, kept.content)] : [],
      saving: kept ? 'unsaved' : 'saved',
      conflict: undefined,
      error: undefined,
    });
    if (kept) this.#saveLater(0);
  }

  /** Whether nothing of it would be lost by forgetting it. */
  get isSettled(): boolean {
    return this.state.get().saving === 'saved';
  }

  set(content: T): void {
    const { history, content: before } = this.state.get();
    this.#change(content, [...history.slice(1 - MOST_STEPS), between(before, content)]);
  }

  /** Takes the last change back, all or nothing: `false` where what it changed has been changed again since. */
  undo(): boolean {
    const { history, content } = this.state.get();
    const last = history.at(-1);
    if (!last) return false;
    const before = without(content, last);
    if (before === undefined) this.#patch({ history: [] });
    else this.#change(before, history.slice(0, -1));
    return before !== undefined;
  }

  /** Goes on from this content, on top of what the other saved. */
  settle(content: T): void {
    const { conflict, history } = this.state.get();
    if (!conflict) return;
    this.#patch({ base: { content: conflict.theirs, revision: conflict.revision }, conflict: undefined });
    this.#change(content, history);
  }

  /** Takes what was read anew, as long as nothing here is unsaved. */
  read(saved: Saved<T>): void {
    const { saving, base } = this.state.get();
    if (saving !== 'saved' || saved.revision <= base.revision) return;
    this.#patch({ content: saved.content, base: saved, history: [] });
  }

  /** Saves at once what waits to be saved. `leaving`: the page is going away. */
  flush(leaving = false): void {
    if (this.state.get().saving === 'unsaved') void this.#save(leaving);
  }

  #change(content: T, history: readonly Change[]): void {
    this.#patch({ content, history, saving: 'unsaved', error: undefined });
    const { base, conflict } = this.state.get();
    this.shelf.put(this.path, { revision: base.revision, base: base.content, content });
    if (!conflict) this.#saveLater(SAVE_AFTER_MS);
  }

  #saveLater(ms: number): void {
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => void this.#save(false), ms);
  }

  async #save(leaving: boolean): Promise<void> {
    clearTimeout(this.#timer);
    const { content, base, conflict } = this.state.get();
    // One at a time: a second would find the first's revision and take it for another's. It follows the first.
    if (this.#flying || conflict) return;
    this.#flying = true;
    this.#patch({ saving: 'saving' });
    try {
      const edit = { revision: base.revision, base: base.content, content };
      const { revision } = await this.send(this.path, edit, leaving);
      const isSame = this.state.get().content === content;
      this.#patch({
        base: { content, revision },
        error: undefined,
        saving: isSame ? 'saved' : 'unsaved',
      });
      if (isSame) this.shelf.drop(this.path);
      else this.#saveLater(SAVE_AFTER_MS);
    } catch (error) {
      this.#fail(error, content);
    } finally {
      this.#flying = false;
    }
  }

  #fail(error: unknown, sent: T): void {
    if (!(error instanceof RequestError)) {
      this.#patch({ saving: 'failed' });
      throw error;
    }
    if (error.status === 409 && error.refusal.detail)
      return this.#patch({ saving: 'failed', conflict: error.refusal.detail as EditConflict<T> });
    // What was changed meanwhile is tried as it is now; what did not arrive is sent again; what was refused waits for an edit.
    const lost = error.status === 0 || error.status >= 500;
    this.#patch({ saving: 'failed', error });
    if (this.state.get().content !== sent) this.#saveLater(SAVE_AFTER_MS);
    else if (lost) this.#saveLater(TRY_AGAIN_MS);
  }

  #patch(part: Partial<DraftState<T>>): void {
    this.state.set({ ...this.state.get(), ...part });
  }
}

function between(before: unknown, after: unknown): Change {
  return change(before as Json, after as Json);
}

/** The content without a change; `undefined` where that is not what it was. */
export function without<T>(content: T, last: Change): T | undefined {
  try {
    return apply(content as Json, invert(last)) as T;
  } catch (error) {
    if (error instanceof RangeError) return undefined;
    throw error;
  }
}
