import { ActivityEvent, heldRules } from '../../src/core/protection/activity/event.ts';
import { RuleBundle, SignedBundle, situationOf } from '../../src/core/protection/devices/rule-bundle.ts';
import { keptOf, type Kept } from '../../src/core/protection/handling/keeping.ts';
import {
  decideText,
  type TextDecision,
  type TextInMotion,
} from '../../src/core/protection/handling/text-decision.ts';
import { base64Of, bytesOf, hexOf, sealFor } from './sealing.ts';
import { builtInDetectors, Engine } from '../../src/core/holdings/offers.ts';

/** What an agent keeps between its starts. */
export interface AgentState {
  readonly token: string;
  /** That bundles are signed with. */
  readonly key: string;
  readonly person: string;
  readonly signed: SignedBundle | null;
  readonly waiting: readonly ActivityEvent[];
  /** Sealed copies that the desk has still to get, in base64. */
  readonly copies: readonly WaitingCopy[];
  readonly trouble: string;
}

export interface WaitingCopy {
  readonly what: Kept['what'];
  readonly event: string;
  readonly rule: string;
  readonly sealed: string;
}

export interface AgentWorld {
  /** To the desk’s interface for devices; a path such as `bundle?has=1`. Fails where there is no network. */
  readonly ask: (path: string, init: RequestInit) => Promise<Response>;
  readonly read: () => AgentState | null;
  readonly write: (state: AgentState) => void;
  readonly now: () => Date;
  readonly random: (bytes: number) => Uint8Array;
}

/** What was decided, and what the person reads: of the rule that decided, both empty where none did. */
export interface Told extends TextDecision {
  readonly says: string;
  readonly rule: string;
  /** What is kept of the data itself. */
  readonly kept: Kept | undefined;
}

/** An agent as it would run on a device: it takes signed rules, decides by them, and tells what was done once it can. */
export class Agent {
  #state: AgentState | null;

  constructor(
    readonly world: AgentWorld,
    readonly engine: Engine,
  ) {
    this.#state = world.read();
  }

  get state(): AgentState | null {
    return this.#state;
  }

  /** The rules it decides by; `undefined` before it has taken any. */
  get bundle(): RuleBundle | undefined {
    const signed = this.#state?.signed;
    return signed ? RuleBundle.parse(JSON.parse(signed.bundle)) : undefined;
  }

  #keep(change: Partial<AgentState>): void {
    if (!this.#state) return;
    this.#state = { ...this.#state, ...change };
    this.world.write(this.#state);
  }

  /** Comes in. Throws an Error with what the desk said where it does not let it. */
  async enrol(
    token: string,
    told: { readonly name: string; readonly person: string; readonly can: readonly string[] },
  ) {
    const answer = await this.world.ask('enrol', {
      method: 'POST',
      headers: { authorization: `Bearer ${token}` },
      body: JSON.stringify({ ...told, platform: 'Stand-in 1' }),
    });
    const said = (await answer.json()) as { token?: string; key?: string; error?: string };
    if (!answer.ok || !said.token || !said.key) throw new Error(said.error ?? 'It was not let in.');
    this.#state = {
      ...{ token: said.token, key: said.key, person: told.person.trim().toLowerCase() },
      ...{ signed: null, waiting: [], copies: [], trouble: '' },
    };
    this.world.write(this.#state);
    await this.refresh();
  }

  /** Takes the rules of now, and keeps those it has where they cannot be verified. */
  async refresh(): Promise<void> {
    const { state } = this;
    if (!state) return;
    const has = this.bundle?.number;
    const query = new URLSearchParams({
      now: this.world.now().toISOString(),
      trouble: state.trouble,
      ...(has === undefined ? {} : { has: String(has) }),
    });
    const answer = await this.world.ask(`bundle?${query.toString()}`, {
      headers: { authorization: `Bearer ${state.token}` },
    });
    if (!answer.ok) throw new Error(`The desk answers ${answer.status}.`);
    const signed = SignedBundle.safeParse(await answer.json());
    if (!signed.success || !(await isGenuine(signed.data, state.key)))
      return this.#keep({ trouble: 'it cannot verify its rules' });
    const read = RuleBundle.safeParse(JSON.parse(signed.data.bundle));
    if (!read.success || (has !== undefined && read.data.number < has))
      return this.#keep({ trouble: 'it was sent rules that are no newer ones' });
    const fresh = read.data.number !== has;
    this.#keep({ signed: signed.data, trouble: '' });
    // So that the desk knows at once what it has.
    if (fresh) await this.refresh();
  }

  #own: { readonly number: number; readonly engine: Engine } | undefined;

  /** With the organisation’s own patterns, where there are any. */
  #engineOf(bundle: RuleBundle | undefined): Engine {
    if (!bundle || bundle.detectors.length === 0) return this.engine;
    if (this.#own?.number !== bundle.number) {
      const ids = new Set(bundle.detectors.map((d) => d.id));
      const shipped = builtInDetectors().filter((d) => !ids.has(d.id));
      this.#own = { number: bundle.number, engine: new Engine([...shipped, ...bundle.detectors]) };
    }
    return this.#own.engine;
  }

  /** What becomes of a text that is put in motion; nothing is told yet. Without rules all of it goes. */
  decide(text: string, motion: TextInMotion, language: string): Told {
    const { bundle } = this;
    const now = this.world.now().toISOString();
    const { situation, rules, counted } = bundle ? situationOf(bundle, now) : nowhere(now.slice(0, 10));
    const decided = decideText(this.#engineOf(bundle), text, motion, situation, rules, counted);
    const by = rules.find((r) => r.id === decided.decision.by)?.content;
    return {
      ...decided,
      ...{ says: by?.says[language] ?? by?.says['en'] ?? '', rule: by?.name ?? '' },
      kept: keptOf(decided.decision, decided.motion, rules),
    };
  }

  /** Keeps what was done until it is told, and of the text what a rule wants kept, sealed. */
  async note(
    { decision, counted, motion, kept }: TextDecision & Pick<Partial<Told>, 'kept'>,
    answer: ActivityEvent['answer'],
    reason: string,
    text = '',
  ): Promise<void> {
    const event = ActivityEvent.parse({
      ...{ id: hexOf(this.world.random(16)), at: this.world.now().toISOString(), kind: 'device', ...motion },
      ...{
        outcome: decision.outcome,
        rules: heldRules(decision),
        counted: heldRules(counted),
        answer,
        reason,
      },
    });
    const key = this.bundle?.sealFor;
    const copy: WaitingCopy | undefined =
      kept && key
        ? {
            ...{ what: kept.what, event: event.id, rule: kept.rule },
            sealed: base64Of(await sealFor(key, new TextEncoder().encode(text), this.world.random)),
          }
        : undefined;
    this.#keep({
      waiting: [...(this.#state?.waiting ?? []), event],
      ...(copy ? { copies: [...(this.#state?.copies ?? []), copy] } : {}),
    });
  }

  /** Tells what waits; what the desk will never take is given up. How many still wait. */
  async tell(): Promise<number> {
    const { state } = this;
    if (!state) return 0;
    if (state.waiting.length === 0) {
      await this.#sendCopies();
      return 0;
    }
    const sent = state.waiting;
    const answer = await this.world.ask(`events?now=${encodeURIComponent(this.world.now().toISOString())}`, {
      method: 'POST',
      headers: { authorization: `Bearer ${state.token}` },
      body: sent.map((e) => JSON.stringify(e)).join('\n'),
    });
    if (!answer.ok) throw new Error(`The desk answers ${answer.status}.`);
    const ids = new Set(sent.map((e) => e.id));
    this.#keep({ waiting: (this.#state?.waiting ?? []).filter((e) => !ids.has(e.id)) });
    await this.#sendCopies();
    return this.#state?.waiting.length ?? 0;
  }

  /** Copies go once their events are told; what the desk will never take is given up. */
  async #sendCopies(): Promise<void> {
    for (const { sealed, ...told } of this.#state?.copies ?? []) {
      const answer = await this.world.ask(`evidence?${new URLSearchParams({ ...told }).toString()}`, {
        method: 'POST',
        headers: { authorization: `Bearer ${this.#state?.token ?? ''}` },
        body: bytesOf(sealed),
      });
      if (answer.status >= 500) throw new Error(`The desk answers ${answer.status}.`);
      this.#keep({ copies: (this.#state?.copies ?? []).filter((c) => c.event !== told.event) });
    }
  }

  /** Files that the officer gives back; `putBack` puts each where it was. */
  async takeBack(putBack: (name: string, text: string) => void): Promise<void> {
    const headers = { authorization: `Bearer ${this.#state?.token ?? ''}` };
    const answer = await this.world.ask('returns', { headers });
    if (!answer.ok) return;
    const files = (await answer.json()) as readonly { id: number; name: string; base64: string }[];
    for (const { id, name, base64 } of files) {
      putBack(name, new TextDecoder().decode(bytesOf(base64)));
      await this.world.ask(`returns?id=${id}`, { method: 'POST', headers });
    }
  }
}

function nowhere(today: string): ReturnType<typeof situationOf> {
  const person = { address: '', groups: new Map<string, number>() };
  return { situation: { person, deviceGroups: new Set(), named: new Map(), today }, rules: [], counted: [] };
}

/** Whether a bundle was signed with the key that was given at the start (Ed25519). */
export async function isGenuine({ bundle, signature }: SignedBundle, key: string): Promise<boolean> {
  const { subtle } = globalThis.crypto;
  try {
    const known = await subtle.importKey('jwk', { kty: 'OKP', crv: 'Ed25519', x: key }, 'Ed25519', false, [
      'verify',
    ]);
    return await subtle.verify('Ed25519', known, bytesOf(signature), new TextEncoder().encode(bundle));
  } catch {
    return false;
  }
}
