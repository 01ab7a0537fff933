import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { expect, it } from 'vitest';
import {
  FixedItemError,
  ItemError,
  type Connector,
  type ListedItem,
} from '../../../../src/server/holdings/connectors/connector.ts';
import { walkPlaces, type Walk } from '../../../../src/server/holdings/connectors/walk.ts';

/** A source with known contents, and what can be done to it from outside. */
export interface Tested {
  /** A connector to it, as one made anew after a restart. */
  connector(): Promise<Connector>;
  /** By place, how many items lie in it. */
  readonly expected: Readonly<Record<string, number>>;
  /** An item, and a text that stands in its bytes. */
  readonly sample: { readonly place: string; readonly text: string };
  /** Changes that item; undefined where items are never changed. */
  readonly change?: () => Promise<void>;
  /** Takes that item away. */
  remove(): Promise<void>;
  /** Its connector takes items away itself, and puts them back. */
  readonly removes?: boolean;
}

const ALL: Walk = { excluded: () => false, signal: new AbortController().signal };

export async function walked(connector: Connector, walk: Partial<Walk> = {}) {
  const places = [];
  for await (const place of walkPlaces(connector, { ...ALL, ...walk })) places.push(place);
  return places;
}

export async function contentText(connector: Connector, place: string, item: ListedItem): Promise<string> {
  const content = await connector.read(place, item);
  const bytes = 'file' in content ? await readFile(Buffer.from(content.file)) : Buffer.from(content.bytes);
  return bytes.toString('utf8');
}

/** What every connector keeps to; in this order, since the last ones change the source. */
export function connectorSuite(tested: () => Tested): void {
  const using = async <T>(work: (connector: Connector) => Promise<T>): Promise<T> => {
    const connector = await tested().connector();
    try {
      return await work(connector);
    } finally {
      await connector.close();
    }
  };
  const sampleItem = async (connector: Connector) => {
    const { place, text } = tested().sample;
    const { items } = await connector.list(place);
    for (const item of await connector.details(place, items))
      if ((await contentText(connector, place, item)).includes(text)) return item;
    throw new Error('The sample is not there.');
  };

  it('is checked, and lists every place and item', () =>
    using(async (connector) => {
      await connector.check();
      const places = await walked(connector);
      expect(Object.fromEntries(places.map((p) => [p.path, p.names.length]))).toEqual(tested().expected);
      expect(places.filter((p) => p.problem)).toEqual([]);
      expect(places.map((p) => p.share).every((s, i, all) => s >= (all[i - 1] ?? 0) && s <= 1)).toBe(true);
    }));

  it('lists the same in the same order each time, and goes on from any place', () =>
    using(async (connector) => {
      const paths = (await walked(connector)).map((p) => p.path);
      for (const [i, from] of paths.entries())
        expect(
          (await walked(connector, { from })).map((p) => p.path),
          `from ${from}`,
        ).toEqual(paths.slice(i));
    }));

  it('is shared out among several without a place twice or left out', () =>
    using(async (connector) => {
      const whole = (await walked(connector)).map((p) => p.path);
      const shards = [0, 1, 2].map((index) => ({ index, of: 3 }));
      const shared: string[] = [];
      for (const shard of shards) shared.push(...(await walked(connector, { shard })).map((p) => p.path));
      expect(shared.toSorted()).toEqual(whole.toSorted());
    }));

  it('leaves out what is excluded, with all below it', () =>
    using(async (connector) => {
      const [first] = Object.keys(tested().expected).filter((p) => p !== '');
      const places = await walked(connector, { excluded: (p) => p === first });
      expect(places.map((p) => p.path).filter((p) => p === first || p.startsWith(`${first}/`))).toEqual([]);
    }));

  it('tells of each item what it is, the same for the same item', () =>
    using(async (connector) => {
      for (const { path, names } of await walked(connector)) {
        const items = await connector.details(path, names);
        expect(items.map((i) => i.name)).toEqual(names);
        for (const item of items) {
          expect(item.name).not.toContain('/');
          expect(item.size).toBeGreaterThanOrEqual(0);
          for (const at of [item.created, item.changed])
            expect(at === null || Number.isFinite(new Date(at).getTime())).toBe(true);
        }
        expect(await connector.details(path, names)).toEqual(items);
      }
      const { place } = tested().sample;
      expect(await connector.details(place, ['never there 1-999999'])).toEqual([]);
    }));

  it('reads every item, the same bytes each time', () =>
    using(async (connector) => {
      for (const { path, names } of await walked(connector))
        for (const item of await connector.details(path, names)) {
          const twice = [await contentText(connector, path, item), await contentText(connector, path, item)];
          const [a, b] = twice.map((t) => createHash('sha256').update(t).digest('hex'));
          expect(a).toBe(b);
        }
      expect(await contentText(connector, tested().sample.place, await sampleItem(connector))).toContain(
        tested().sample.text,
      );
    }));

  it('marks a changed item as another version of the same', async () => {
    const { change, sample } = tested();
    if (!change) return;
    const before = await using(sampleItem);
    await change();
    const [after] = await using((connector) => connector.details(sample.place, [before.name]));
    expect(after?.name).toBe(before.name);
    if (after?.version === '') return;
    expect(after?.version).not.toBe(before.version);
  });

  it('takes an item away that is as it was listed, and puts it back as it was', () =>
    using(async (connector) => {
      const { place, text } = tested().sample;
      const item = await sampleItem(connector);
      if (!tested().removes) {
        if (connector.remove)
          await expect(connector.remove(place, item)).rejects.toBeInstanceOf(FixedItemError);
        return;
      }
      const bytes = Buffer.from(await contentText(connector, place, item));
      await expect(connector.remove?.(place, { ...item, version: 'another' })).rejects.toBeInstanceOf(
        ItemError,
      );
      expect(await contentText(connector, place, item)).toContain(text);
      const removed = await connector.remove?.(place, item);
      expect(removed?.method).toMatch(/\w+ \w+/);
      expect(await connector.details(place, [item.name])).toEqual([]);
      // A second time there is nothing, and nothing is harmed.
      await expect(connector.remove?.(place, item)).rejects.toBeInstanceOf(ItemError);
      const mark = JSON.parse(JSON.stringify(removed?.mark)) as never;
      const back = await connector.restore?.(place, item, bytes, mark);
      if (!back) throw new Error('It was not put back.');
      expect(await connector.details(place, [back.name])).toEqual([back]);
      expect(await contentText(connector, place, back)).toBe(bytes.toString());
      // A broken run notes nothing besides its bytes.
      await connector.remove?.(place, back);
      const again = await connector.restore?.(place, back, bytes, null);
      expect(again && (await contentText(connector, place, again))).toBe(bytes.toString());
      expect(again?.changed?.slice(0, 10)).toBe(back.changed?.slice(0, 10));
    }));

  it('says what happened to an item that went away after it was listed', () =>
    using(async (connector) => {
      const { place } = tested().sample;
      const item = await sampleItem(connector);
      await tested().remove();
      await expect(connector.read(place, item)).rejects.toBeInstanceOf(ItemError);
    }));
}
