import { describe, expect, it, test } from 'vitest';
import { UnsentChoices, type Unsent } from './unsent.ts';

const unsent = (n: number, over: Partial<Unsent> = {}): Unsent => ({
  version: 1,
  allowed: ['measurement'],
  language: 'en',
  visitorKey: 'ab'.repeat(16),
  choiceKey: String(n).padStart(32, '0'),
  shown: 'token',
  at: 1_790_000_000 + n,
  ...over,
});
const NOW = 1_790_000_100;

class FakeStorage {
  readonly #items = new Map<string, string>();
  getItem = (name: string) => this.#items.get(name) ?? null;
  setItem = (name: string, value: string) => void this.#items.set(name, value);
  removeItem = (name: string) => void this.#items.delete(name);
  get names() {
    return [...this.#items.keys()];
  }
}
const open = (storage: unknown) => new UnsentChoices(() => storage as Storage);

describe('choices that are not on record yet', () => {
  it('are there for the next page, in their order, until they are taken out', () => {
    const storage = new FakeStorage();
    open(storage).add(unsent(1));
    open(storage).add(unsent(2));
    expect(open(storage).all(NOW)).toEqual([unsent(1), unsent(2)]);
    open(storage).remove(unsent(1).choiceKey);
    expect(open(storage).all(NOW)).toEqual([unsent(2)]);
    open(storage).remove(unsent(2).choiceKey);
    expect(storage.names).toEqual([]);
  });

  it('are kept as long as the service knows their keys, and the latest of many', () => {
    const storage = new FakeStorage();
    for (let n = 0; n < 50; n++) open(storage).add(unsent(n));
    expect(
      open(storage)
        .all(NOW)
        .map((u) => u.at - 1_790_000_000),
    ).toEqual(Array.from({ length: 20 }, (_, i) => i + 30));
    expect(open(storage).all(NOW + 35 * 86_400)).toEqual([]);
  });

  it('are kept for the page alone where its storage is closed', () => {
    const closed = new UnsentChoices(() => {
      throw new Error('SecurityError');
    });
    closed.add(unsent(1));
    expect(closed.all(NOW)).toEqual([unsent(1)]);
    closed.remove(unsent(1).choiceKey);
    expect(closed.all(NOW)).toEqual([]);
  });

  test.each([
    ['no JSON', '{'],
    ['no list', '{"a":1}'],
    ['nothing', 'null'],
    ['a list of other things', '[1,null,"x",{},{"choiceKey":1}]'],
  ])('are none when another script has written %s there, and the next is kept', (_, text) => {
    const storage = new FakeStorage();
    storage.setItem('yare_unsent', text);
    const choices = open(storage);
    expect(choices.all(NOW)).toEqual([]);
    choices.add(unsent(1));
    expect(choices.all(NOW)).toEqual([unsent(1)]);
  });
});
