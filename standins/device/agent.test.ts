import { generateKeyPairSync, randomBytes, sign } from 'node:crypto';
import { beforeEach, describe, expect, it } from 'vitest';
import { builtInDetectors, Engine, PatternDetector } from '../../src/core/holdings/offers.ts';
import { parseLens } from '../../src/core/lens/lens-text.ts';
import type { RuleBundle } from '../../src/core/protection/devices/rule-bundle.ts';
import { firstHandlingRule } from '../../src/core/protection/handling/handling-rule.ts';
import { Agent, type AgentState } from './agent.ts';

const engine = new Engine(builtInDetectors());
const { privateKey, publicKey } = generateKeyPairSync('ed25519');
const other = generateKeyPairSync('ed25519').privateKey;
const CARDS = 'Card 4111 1111 1111 1111, and card 5500 0055 5555 5559, both paid.';

const bundle = (number: number): RuleBundle => ({
  ...{ number, madeAt: '2026-11-30T10:00:00.000Z', device: 7, named: [], deviceGroups: [], levels: [] },
  ...{ passes: [], answers: [], sealFor: '', detectors: [] },
  rules: [
    {
      ...{ id: '1', version: 2, broken: false, rehearsing: false },
      content: {
        ...firstHandlingRule('Cards into web forms', { 'web form': 'ask' }),
        lens: parseLens('matches:payment-card at least 2'),
        says: { en: 'These are card numbers.', da: 'Det er kortnumre.' },
      },
    },
  ],
  person: { address: 'jonas@line.example', groups: [] },
});
const withRehearsal = (of: RuleBundle): RuleBundle => ({
  ...of,
  rules: of.rules.flatMap((r) => [
    r,
    { ...r, id: '2', rehearsing: true, content: { ...r.content, channels: { 'web form': 'stop' } } },
  ]),
});

/** A desk that does as it is told. */
class Desk {
  online = true;
  key = privateKey;
  sent = bundle(1);
  readonly asked: string[] = [];
  readonly told: { id: string; outcome: string; answer: string | null }[] = [];
  kept: AgentState | null = null;
  readonly copies: (readonly [path: string, sealed: Buffer])[] = [];
  returns: { id: number; name: string; base64: string }[] = [];

  readonly ask = (path: string, init: RequestInit): Promise<Response> => {
    if (!this.online) return Promise.reject(new TypeError('There is no network.'));
    this.asked.push(path.split('?')[0] ?? '');
    if (path === 'enrol')
      return Promise.resolve(
        Response.json({ device: 7, token: 'yd_x', key: publicKey.export({ format: 'jwk' }).x }),
      );
    if (path.startsWith('bundle')) {
      const text = JSON.stringify(this.sent);
      const signature = sign(null, Buffer.from(text), this.key).toString('base64url');
      return Promise.resolve(Response.json({ bundle: text, signature }));
    }
    if (path.startsWith('evidence')) {
      this.copies.push([path, Buffer.from(init.body as Uint8Array)]);
      return Promise.resolve(Response.json({ kept: true }));
    }
    if (path === 'returns') return Promise.resolve(Response.json(this.returns));
    if (path.startsWith('returns?')) {
      this.returns = [];
      return Promise.resolve(Response.json({ done: true }));
    }
    for (const line of String(init.body).split('\n'))
      this.told.push(JSON.parse(line) as (typeof this.told)[number]);
    return Promise.resolve(Response.json({ taken: 1, already: 0, refused: [] }));
  };

  start(): Agent {
    return new Agent(
      {
        ask: this.ask,
        read: () => this.kept,
        write: (state) => (this.kept = structuredClone(state)),
        now: () => new Date('2026-11-30T12:00:00.000Z'),
        random: (bytes) => randomBytes(bytes),
      },
      engine,
    );
  }
}

let desk: Desk;
let agent: Agent;
beforeEach(async () => {
  desk = new Desk();
  agent = desk.start();
  await agent.enrol('ye_x', { name: 'LT', person: 'Jonas@line.example ', can: [] });
});
const paste = (text: string, language = 'en') =>
  agent.decide(
    text,
    {
      ...{ act: 'paste', channel: 'web form', person: 'jonas@line.example', program: '', network: '' },
      towards: ['https://shop.example/'],
    },
    language,
  );

describe('an agent', () => {
  it('comes in, takes its rules, tells at once that it has them, and remembers all that', () => {
    expect(desk.asked).toEqual(['enrol', 'bundle', 'bundle']);
    expect(agent.bundle?.number).toBe(1);
    expect(desk.start().bundle?.number).toBe(1);
    expect(agent.state?.person).toBe('jonas@line.example');
  });

  it('is not let in by what the desk refuses, and says what that said', async () => {
    const fresh = new Agent(
      {
        ...agent.world,
        read: () => null,
        ask: () =>
          Promise.resolve(Response.json({ error: 'This token lets no device in.' }, { status: 401 })),
      },
      engine,
    );
    await expect(fresh.enrol('x', { name: 'L', person: 'p', can: [] })).rejects.toThrow(
      'This token lets no device in.',
    );
    expect(fresh.state).toBeNull();
  });

  it('keeps the rules it has where others are forged, or older, and says so', async () => {
    desk.sent = bundle(2);
    desk.key = other;
    await agent.refresh();
    expect([agent.bundle?.number, agent.state?.trouble]).toEqual([1, 'it cannot verify its rules']);
    desk.key = privateKey;
    await agent.refresh();
    expect([agent.bundle?.number, agent.state?.trouble]).toEqual([2, '']);
    desk.sent = bundle(1);
    await agent.refresh();
    expect([agent.bundle?.number, agent.state?.trouble]).toEqual([
      2,
      'it was sent rules that are no newer ones',
    ]);
  });

  it('decides by its rules, in the language of the person, and tells nothing of what was in it', async () => {
    const asked = paste(CARDS, 'da');
    expect([asked.decision.outcome, asked.says, asked.rule]).toEqual([
      'ask',
      'Det er kortnumre.',
      'Cards into web forms',
    ]);
    expect(paste(CARDS, 'fr').says).toBe('These are card numbers.');
    expect(paste('Nothing to see.').decision.outcome).toBe('go');
    await agent.note(asked, 'went on', 'The customer asked for it');
    expect(await agent.tell()).toBe(0);
    expect(desk.told).toMatchObject([{ outcome: 'ask', answer: 'went on' }]);
    expect(JSON.stringify(desk.told)).not.toMatch(/4111|5500/);
  });

  it('counts what a rehearsal would have done, and asks nobody by it', async () => {
    desk.sent = withRehearsal(bundle(2));
    await agent.refresh();
    const asked = paste(CARDS);
    expect([asked.decision.outcome, asked.counted.outcome]).toEqual(['ask', 'stop']);
    await agent.note(asked, 'went on', 'x');
    await agent.tell();
    expect(desk.told).toMatchObject([
      { outcome: 'ask', rules: [{ rule: '1' }], counted: [{ rule: '2', wants: 'stop' }] },
    ]);
  });

  it('decides without a network, and tells once there is one, each once', async () => {
    desk.online = false;
    await agent.note(paste(CARDS), 'turned back', '');
    await agent.note(paste('Nothing.'), null, '');
    await expect(agent.tell()).rejects.toThrow('no network');
    // Switched off and on in between.
    agent = desk.start();
    expect(agent.state?.waiting).toHaveLength(2);
    desk.online = true;
    expect(await agent.tell()).toBe(0);
    await agent.tell();
    expect(new Set(desk.told.map((t) => t.id)).size).toBe(2);
    expect(desk.told).toHaveLength(2);
  });

  it('seals what a rule keeps for the desk alone, keeps it without a network, and sends it once after its event', async () => {
    const { evidenceKey, openSealed } = await import('../../src/server/protection/evidence/evidence-key.ts');
    const keyed = { settings: { SECRET_KEY: 'ab'.repeat(32) } } as never;
    const kept = bundle(3);
    const [rule] = kept.rules;
    if (!rule) return;
    desk.sent = {
      ...{ ...kept, sealFor: evidenceKey(keyed) },
      rules: [{ ...rule, content: { ...rule.content, keeps: { ...rule.content.keeps, copy: true } } }],
    };
    await agent.refresh();
    desk.online = false;
    const asked = paste(CARDS);
    expect(asked.kept).toEqual({ what: 'copy', rule: '1', days: 30 });
    await agent.note(asked, 'went on', 'x', CARDS);
    // Whoever has the device finds nothing in it.
    expect(JSON.stringify(agent.state)).not.toMatch(/4111|5500/);
    desk.online = true;
    await agent.tell();
    await agent.tell();
    expect(desk.copies).toHaveLength(1);
    const [path, sealed] = desk.copies[0] ?? ['', Buffer.alloc(0)];
    expect(new URLSearchParams(path.split('?')[1]).get('event')).toBe(desk.told.at(-1)?.id);
    expect(openSealed(keyed, sealed).toString()).toBe(CARDS);
    sealed[50] = (sealed[50] ?? 0) ^ 1;
    expect(() => openSealed(keyed, sealed)).toThrow();
    expect(() => openSealed({ settings: { SECRET_KEY: 'cd'.repeat(32) } } as never, sealed)).toThrow();
    expect(() => openSealed(keyed, Buffer.alloc(10))).toThrow(RangeError);
  });

  it('puts back what the officer gives back, once', async () => {
    desk.returns = [{ id: 4, name: 'list.txt', base64: Buffer.from('Søren').toString('base64') }];
    const back: string[][] = [];
    await agent.takeBack((name, text) => back.push([name, text]));
    await agent.takeBack((name, text) => back.push([name, text]));
    expect(back).toEqual([['list.txt', 'Søren']]);
  });

  it('looks for the organisation’s own patterns too', async () => {
    const own = PatternDetector.parse({
      ...{ kind: 'pattern', id: 'berth-pass', name: 'Berth pass', start: 3 },
      anchor: { by: 'pattern', pattern: 'BP-[0-9]{6}' },
    });
    const [rule] = bundle(6).rules;
    if (!rule) return;
    const lens = parseLens('data one of "berth-pass"');
    desk.sent = { ...bundle(6), detectors: [own], rules: [{ ...rule, content: { ...rule.content, lens } }] };
    await agent.refresh();
    expect(paste('Pass BP-123456 at the gate').decision.outcome).toBe('ask');
    expect(paste('Pass at the gate').decision.outcome).toBe('go');
  });

  it('lets by whoever the officer lets by, until then', async () => {
    const far = '2999-01-01T00:00:00.000Z';
    desk.sent = { ...bundle(4), passes: [{ rule: '1', until: far }] };
    await agent.refresh();
    expect(paste(CARDS).decision.outcome).toBe('go');
    desk.sent = { ...bundle(5), passes: [{ rule: '1', until: '2000-01-01T00:00:00.000Z' }] };
    await agent.refresh();
    expect(paste(CARDS).decision.outcome).toBe('ask');
  });
});
