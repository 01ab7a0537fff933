import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { EditedDraft, type DraftShelf, type Edit } from './edited-draft.ts';
import { RequestError } from '../desk/request-error.ts';

interface Rule {
  readonly keep: number;
}

/** A server that one may take away, and that knows when somebody else saved. */
class Server {
  content: Rule = { keep: 1 };
  revision = 1;
  away = false;
  readonly heard: { edit: Edit<Rule>; leaving: boolean }[] = [];

  readonly send = async (_path: string, edit: Edit<Rule>, leaving: boolean) => {
    this.heard.push({ edit, leaving });
    await new Promise((done) => setTimeout(done, 50));
    if (this.away) throw new RequestError(0, { error: 'does not answer', fields: [] });
    if (edit.content.keep < 0)
      throw new RequestError(400, { error: 'no', fields: [{ field: 'keep', message: 'from 0' }] });
    if (edit.revision !== this.revision)
      throw new RequestError(409, {
        error: 'meanwhile',
        fields: [],
        detail: {
          revision: this.revision,
          editedBy: 'Priya Nand',
          theirs: this.content,
          merged: edit.content,
          collisions: [],
          theirChanges: [],
        },
      });
    this.content = edit.content;
    return { revision: ++this.revision };
  };
}

class Shelf implements DraftShelf {
  readonly kept = new Map<string, string>();
  put(path: string, edit: unknown) {
    this.kept.set(path, JSON.stringify(edit));
  }
  take(path: string): unknown {
    const text = this.kept.get(path);
    return text === undefined ? undefined : JSON.parse(text);
  }
  drop(path: string) {
    this.kept.delete(path);
  }
}

let server: Server;
let shelf: Shelf;
const open = () =>
  new EditedDraft<Rule>('/rule', { content: server.content, revision: server.revision }, server.send, shelf);

beforeEach(() => {
  vi.useFakeTimers();
  server = new Server();
  shelf = new Shelf();
});
afterEach(() => vi.useRealTimers());

describe('a draft under edit', () => {
  it('is saved once, shortly after the last of several changes', async () => {
    const draft = open();
    for (const keep of [2, 3, 4]) draft.set({ keep });
    expect(draft.isSettled).toBe(false);
    await vi.advanceTimersByTimeAsync(600);
    expect(server.heard.map((h) => h.edit)).toEqual([
      { revision: 1, base: { keep: 1 }, content: { keep: 4 } },
    ]);
    expect(draft.isSettled).toBe(true);
    draft.undo();
    await vi.advanceTimersByTimeAsync(600);
    expect(server.content).toEqual({ keep: 3 });
  });

  it('is saved again when it changed while it was being saved, one after the other', async () => {
    const draft = open();
    draft.set({ keep: 2 });
    await vi.advanceTimersByTimeAsync(520);
    draft.set({ keep: 3 });
    draft.flush();
    await vi.advanceTimersByTimeAsync(1500);
    expect(server.heard.map((h) => [h.edit.revision, h.edit.content.keep])).toEqual([
      [1, 2],
      [2, 3],
    ]);
    expect(draft.isSettled).toBe(true);
  });

  it('is saved at once by leaving', async () => {
    const draft = open();
    draft.set({ keep: 2 });
    draft.flush(true);
    expect(server.heard).toHaveLength(1);
    expect(server.heard[0]).toMatchObject({ leaving: true });
    await vi.advanceTimersByTimeAsync(2000);
    expect(server.heard).toHaveLength(1);
  });

  it('is sent again until it arrives', async () => {
    const draft = open();
    server.away = true;
    draft.set({ keep: 2 });
    await vi.advanceTimersByTimeAsync(6000);
    expect(draft.state.get()).toMatchObject({ saving: 'failed', error: { status: 0 } });
    server.away = false;
    await vi.advanceTimersByTimeAsync(5100);
    expect(server.content).toEqual({ keep: 2 });
    expect(draft.state.get()).toMatchObject({ saving: 'saved', error: undefined });
  });

  it('waits for an edit when it was refused', async () => {
    const draft = open();
    draft.set({ keep: -1 });
    await vi.advanceTimersByTimeAsync(20_000);
    expect(server.heard).toHaveLength(1);
    expect(draft.state.get().error?.field('keep')).toBe('from 0');
    draft.set({ keep: 5 });
    await vi.advanceTimersByTimeAsync(600);
    expect(server.content).toEqual({ keep: 5 });
  });

  it('goes on only when a conflict is settled, on top of what the other saved', async () => {
    const draft = open();
    [server.content, server.revision] = [{ keep: 9 }, 2];
    draft.set({ keep: 2 });
    await vi.advanceTimersByTimeAsync(600);
    expect(draft.state.get().conflict).toMatchObject({ editedBy: 'Priya Nand', theirs: { keep: 9 } });
    draft.set({ keep: 3 });
    draft.flush();
    await vi.advanceTimersByTimeAsync(20_000);
    expect(server.heard).toHaveLength(1);
    expect(server.content).toEqual({ keep: 9 });
    draft.settle({ keep: 3 });
    await vi.advanceTimersByTimeAsync(600);
    expect(server.heard[1]?.edit).toEqual({ revision: 2, base: { keep: 9 }, content: { keep: 3 } });
    expect(draft.isSettled).toBe(true);
  });

  it('takes what another saved where nothing here is unsaved', async () => {
    const draft = open();
    draft.read({ content: { keep: 7 }, revision: 2 });
    expect(draft.state.get()).toMatchObject({ content: { keep: 7 }, history: [] });
    server.revision = 2;
    draft.set({ keep: 8 });
    draft.read({ content: { keep: 1 }, revision: 3 });
    expect(draft.state.get().content).toEqual({ keep: 8 });
  });

  it('survives the page going away before it was saved', async () => {
    server.away = true;
    open().set({ keep: 2 });
    await vi.advanceTimersByTimeAsync(600);
    server.away = false;
    vi.clearAllTimers();
    const again = open();
    expect(again.state.get()).toMatchObject({ content: { keep: 2 }, saving: 'unsaved' });
    await vi.advanceTimersByTimeAsync(100);
    expect(server.content).toEqual({ keep: 2 });
    expect(shelf.kept.size).toBe(0);
  });
});
