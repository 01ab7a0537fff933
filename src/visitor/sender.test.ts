import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Random } from '../../demo/random.ts';
import { Sender } from './sender.ts';
import { UnsentChoices, type Unsent } from './unsent.ts';

const unsent = (n: number): Unsent => ({
  version: 1,
  allowed: [],
  language: 'en',
  visitorKey: 'ab'.repeat(16),
  choiceKey: String(n).padStart(32, '0'),
  shown: 'token',
  at: Date.now() / 1000,
});

/** What becomes of one request. */
type Fate = 'answered' | 'answer lost' | 'never arrived' | 'busy' | 'broken' | 'nonsense' | 'refused';

/** A service that knows what was sent twice, and a network that does as it is told. */
class Service {
  readonly recorded: string[] = [];
  readonly asked: string[] = [];
  fates: Fate[] = [];

  readonly fetch = async (_: string, init: RequestInit): Promise<Response> => {
    const { choiceKey } = JSON.parse(init.body as string) as Unsent;
    const fate = this.fates.shift() ?? 'answered';
    this.asked.push(fate);
    if (fate === 'never arrived') throw new TypeError('Failed to fetch');
    if (fate === 'busy') return new Response('', { status: 429, headers: { 'retry-after': '7' } });
    if (fate === 'broken') return new Response('', { status: 503 });
    if (fate === 'refused') return new Response('', { status: 422 });
    if (!this.recorded.includes(choiceKey)) this.recorded.push(choiceKey);
    if (fate === 'answer lost') throw new TypeError('Failed to fetch');
    if (fate === 'nonsense') return new Response('<html>');
    return Response.json({ receipt: { id: `r${this.recorded.indexOf(choiceKey)}` } });
  };
}

function page(service: Service, unsent: UnsentChoices) {
  const recorded: [string, string][] = [];
  const refused: string[] = [];
  const window = Object.assign(new EventTarget(), {
    navigator: {},
    setTimeout: (work: () => void, ms: number) => setTimeout(work, ms),
  });
  const sender = new Sender(window as never, service.fetch, 'https://visitor.example/choices', unsent, {
    recorded: (c, receipt) => void recorded.push([c.choiceKey, receipt]),
    refused: (c) => void refused.push(c.choiceKey),
  });
  return { sender, window, recorded, refused };
}

function memory(): UnsentChoices {
  const items = new Map<string, string>();
  return new UnsentChoices(
    () =>
      ({
        getItem: (n: string) => items.get(n) ?? null,
        setItem: (n: string, v: string) => void items.set(n, v),
        removeItem: (n: string) => void items.delete(n),
      }) as Storage,
  );
}

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

describe('a choice', () => {
  it.each<[Fate, number]>([
    ['never arrived', 5],
    ['answer lost', 5],
    ['broken', 5],
    ['nonsense', 5],
    ['busy', 10],
  ])('that %s is sent again within %i seconds, and is on record once', async (fate, seconds) => {
    const [service, kept] = [new Service(), memory()];
    service.fates = [fate];
    const { sender, recorded } = page(service, kept);
    kept.add(unsent(1));
    await sender.flush();
    expect(kept.all(Date.now() / 1000)).toHaveLength(1);
    await vi.advanceTimersByTimeAsync(seconds * 1000);
    expect(service.recorded).toEqual([unsent(1).choiceKey]);
    expect(recorded).toEqual([[unsent(1).choiceKey, 'r0']]);
    expect(kept.all(Date.now() / 1000)).toEqual([]);
  });

  it('that is refused for good is told so, and does not hold up the next', async () => {
    const [service, kept] = [new Service(), memory()];
    service.fates = ['refused'];
    const { sender, recorded, refused } = page(service, kept);
    kept.add(unsent(1));
    kept.add(unsent(2));
    await sender.flush();
    expect(refused).toEqual([unsent(1).choiceKey]);
    expect(recorded).toEqual([[unsent(2).choiceKey, 'r0']]);
  });

  it('waits for a service that is away without asking it all the time, and goes when the browser is online', async () => {
    const [service, kept] = [new Service(), memory()];
    service.fates = Array.from({ length: 1000 }, () => 'never arrived');
    const { sender, window } = page(service, kept);
    kept.add(unsent(1));
    await sender.flush();
    await vi.advanceTimersByTimeAsync(3_600_000);
    expect(service.asked.length).toBeGreaterThan(40);
    expect(service.asked.length).toBeLessThan(100);
    service.fates = [];
    window.dispatchEvent(new Event('online'));
    await vi.advanceTimersByTimeAsync(0);
    expect(service.recorded).toHaveLength(1);
  });
});

it('whatever becomes of requests and pages, every choice is on record once and in its order', async () => {
  const random = new Random(13);
  const fates: Fate[] = ['answered', 'answer lost', 'never arrived', 'busy', 'broken', 'nonsense'];
  for (let round = 0; round < 200; round++) {
    const [service, kept] = [new Service(), memory()];
    const made: string[] = [];
    let told = 0;
    for (let opened = 1 + random.below(3); opened > 0; opened--) {
      // Each page is left with its timers; the storage stays.
      vi.clearAllTimers();
      const { sender, recorded } = page(service, kept);
      for (let n = random.below(4); n > 0; n--) {
        const choice = unsent(made.length);
        made.push(choice.choiceKey);
        kept.add(choice);
        service.fates = Array.from({ length: random.below(4) }, () => random.pick(fates));
        await sender.flush();
        if (random.chance(0.5)) await vi.advanceTimersByTimeAsync(random.below(20_000));
      }
      told += recorded.length;
    }
    vi.clearAllTimers();
    service.fates = [];
    const last = page(service, kept);
    await last.sender.flush();
    expect(service.recorded).toEqual(made);
    expect(kept.all(Date.now() / 1000)).toEqual([]);
    expect(told + last.recorded.length).toBe(made.length);
  }
});
