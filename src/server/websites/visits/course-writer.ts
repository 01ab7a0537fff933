import type { NoticeMeasure } from '../../../core/websites/notice/notice-measure.ts';
import type { Purpose } from '../../../core/websites/notice/purpose.ts';
import type { RegimeRow } from '../../../core/websites/notice/regime.ts';
import { regionName } from '../../../core/websites/notice/region.ts';
import type { SaidNeed, Sorted } from '../../../core/websites/gate/gate-plan.ts';
import type { TagKey } from '../../../core/websites/gate/tag.ts';
import { matchesGlob } from '../../../core/text/glob.ts';
import {
  lifetimeWords,
  requestName,
  type Cause,
  type TrackerKind,
} from '../../../core/websites/trackers/tracker.ts';
import { runVerdict } from '../../../core/websites/visits/run-verdict.ts';
import type { VisitEvent, VisitWish } from '../../../core/websites/visits/visit.ts';
import type { Seen, SeenRequest } from '../crawl/seen.ts';
import type { Told } from './told.ts';

/** What is known before a visit begins. */
export interface VisitGround {
  readonly siteHost: string;
  readonly visitorHost: string;
  readonly wish: VisitWish;
  readonly regime: RegimeRow;
  readonly purposes: readonly Purpose[];
  readonly sorted: readonly Sorted[];
  /** Tags that may run before they are allowed, if they identify nobody. */
  readonly adapting: readonly TagKey[];
  /** What somebody said tags need: for those that no sweep has met. */
  readonly needs: readonly SaidNeed[];
}

/** A value of so many characters that is sent is not sent by chance. */
const LEAST_VALUE = 8;
const MOST_EVENTS = 600;

/** Writes down what one visitor meets, in order, each with whether it might be. */
export class CourseWriter {
  readonly events: VisitEvent[] = [];
  phase = 0;
  #begun = Date.now();
  #purposes: VisitEvent['purposes'];
  #answered = false;
  readonly #values = new Set<string>();
  readonly #known = new Map<string, VisitEvent>();
  /** What was held and has not run since, by its key. */
  readonly #held = new Map<string, VisitEvent>();
  #answeredAt = 0;
  receipt: string | undefined;
  shown = false;
  /** What the visitor is to answer, in words. */
  willAnswer = '';
  measure: NoticeMeasure | undefined;

  constructor(readonly ground: VisitGround) {}

  begin(): void {
    this.#begun = Date.now();
  }

  /** Something of the walk itself. */
  walk(what: VisitEvent['what'], key: string, words: string, cell = '', why = ''): void {
    this.#put({ what, key, words, cell, why });
  }

  /** Whether the gate has taken the visitor's answer. */
  get answered(): boolean {
    return this.#answered;
  }

  /** What the gate says of itself. */
  told(told: Told): void {
    switch (told.what) {
      case 'start':
      case 'state': {
        const { purposes, region, regime } = told.state;
        this.#purposes = purposes;
        const words =
          told.what === 'start' ? `gate starts: ${regionName(region)}, ${regime}` : 'state changes';
        this.#put({ what: told.what, key: told.what, words, cell: '', purposes });
        if (told.what === 'state') this.#stillHeld();
        return;
      }
      case 'held':
      case 'reduced': {
        const place = this.#placeOf(told.name);
        const event = {
          ...{
            what: 'held' as const,
            key: `tag ${place.host}${place.name}`,
            words: labelOf(place, told.name),
          },
          ...{ cell: told.what, purpose: told.purpose, host: place.host, name: place.name },
          why:
            told.what === 'held'
              ? 'The gate holds it until its purpose is allowed.'
              : 'The gate lets it go without identifiers.',
          ...(told.what === 'reduced' ? { verdict: 'reduced' as const } : {}),
        };
        if (told.what === 'held') this.#held.set(event.key, this.#put(event));
        else this.#put(event);
        return;
      }
      case 'shown':
        this.shown = true;
        return void this.#put({ what: 'shown', key: 'shown', words: 'notice shown', cell: '' });
      case 'told':
        return void this.#put({
          ...{ what: 'told', key: `told ${told.system}`, words: `${told.system} is told`, cell: 'told' },
          why: JSON.stringify(told.entry).slice(0, 2000),
        });
      case 'recorded':
        this.receipt = told.receipt;
        return void this.#put({
          ...{ what: 'recorded', key: 'recorded', words: 'choice acknowledged' },
          cell: `${Math.max(0, Date.now() - this.#answeredAt)} ms`,
          why: told.receipt
            ? `Receipt ${told.receipt}.`
            : 'The choice of a visit is acknowledged, and not put on record.',
        });
      case 'deleted':
        return void this.#put({
          ...{ what: 'deleted', key: 'deleted', words: 'what was withdrawn is deleted' },
          cell: told.left.length === 0 ? 'all' : `all but ${told.left.length}`,
          why: told.left
            .map((l) => `${l.name} of ${l.host} is out of reach.`)
            .join(' ')
            .slice(0, 2000),
        });
      case 'answer':
        // What the page does while the visitor is still about to press is not done after it.
        if (this.#answered) return;
        this.phase = 1;
        this.#answered = true;
        this.#answeredAt = Date.now();
        return this.walk('answer', 'answer', 'the visitor answers', this.willAnswer);
    }
  }

  /** What the browser saw. */
  saw(seen: Seen): void {
    switch (seen.what) {
      case 'request':
        return this.#request(seen);
      case 'cookie':
        if (seen.refused || seen.name.startsWith('yare_')) return;
        this.#remember(seen.value);
        return this.#stored('cookie', seen.name, seen.domain, seen.lifetime, seen.cause);
      case 'stored':
        if (seen.refused || seen.key.startsWith('yare_')) return;
        this.#remember(seen.value);
        return this.#stored(seen.area, seen.key, hostOf(seen.origin), null, seen.cause);
      case 'link':
      case 'bounce':
      case 'fingerprint':
        return;
    }
  }

  #request(seen: SeenRequest): void {
    if (seen.refused || seen.resource === 'page') return;
    const url = new URL(seen.url);
    if (url.hostname === this.ground.visitorHost && url.hostname !== this.ground.siteHost) return;
    const name = requestName(url);
    const key = { host: url.hostname, name };
    const known = this.#find('request', name, url.hostname);
    // What the site itself is made of is no tag.
    if (!known && isOwn(url.hostname, this.ground.siteHost)) return;
    const text = `${seen.url} ${seen.body}`;
    const identifies = [...this.#values].some((v) => text.includes(v));
    const said = this.ground.needs.find((n) => n.host === key.host && n.name === key.name);
    this.#ran({
      ...{ kind: 'request', key: `tag ${key.host}${name}`, words: labelOf(key, seen.url), ...key },
      ...{
        cause: seen.cause,
        purpose: said?.purpose ?? known?.purpose ?? null,
        identifies,
        what: 'ran',
        cell: 'ran',
      },
    });
  }

  #stored(
    kind: TrackerKind,
    name: string,
    host: string,
    lifetime: number | null,
    cause: readonly Cause[],
  ): void {
    const bare = host.replace(/^\./, '');
    if (bare === this.ground.visitorHost && bare !== this.ground.siteHost) return;
    const known = this.#find(kind, name, bare);
    const lasts = lifetimeWords({ kind }, lifetime);
    this.#ran({
      ...{
        kind,
        key: `${kind} ${bare} ${known?.tracker.name ?? name}`,
        words: `${name} set, ${lasts}`,
        host: bare,
      },
      ...{ name, cause, purpose: known?.purpose ?? null, identifies: true, what: 'stored', cell: 'set' },
    });
  }

  #ran(ran: {
    kind: TrackerKind;
    key: string;
    words: string;
    host: string;
    name: string;
    cause: readonly Cause[];
    purpose: string | null;
    identifies: boolean;
    what: 'ran' | 'stored';
    cell: string;
  }): void {
    const { identifies, ...event } = ran;
    const { verdict, why } = runVerdict(
      {
        purpose: this.ground.purposes.find((p) => p.code === ran.purpose) ?? null,
        ours: false,
        adapts: this.#adapts(ran.cause, ran),
        identifies,
      },
      this.#purposes,
      this.#answered,
      this.ground.regime,
      this.ground.wish.region,
    );
    this.#held.delete(event.key);
    this.#put({
      ...event,
      verdict,
      why,
      cell: verdict === 'reduced' ? 'reduced' : event.cell,
      cause: [...event.cause],
    });
  }

  /** Whether a tag that may run early is on the way to something, or is it itself. */
  #adapts(cause: readonly Cause[], own: TagKey): boolean {
    const steps = cause.flatMap(({ url }) =>
      URL.canParse(url) ? [{ host: new URL(url).hostname, name: requestName(new URL(url)) }] : [],
    );
    return this.ground.adapting.some((t) =>
      [...steps, own].some((s) => s.host === t.host && s.name === t.name),
    );
  }

  /** What was held before still is, after the state has changed. */
  #stillHeld(): void {
    const held = [...this.#held.values()].filter((h) => {
      const stands = this.#purposes?.[h.purpose ?? ''];
      return stands !== 'allowed' && stands !== 'starts on';
    });
    for (const h of held) this.#put({ ...h, cell: 'held' });
    if (held.length === 0) this.#held.clear();
  }

  #find(kind: TrackerKind, name: string, host: string): Sorted | undefined {
    return this.ground.sorted.find(
      ({ tracker: t }) =>
        t.kind === kind &&
        (t.host === host || (kind === 'cookie' && host.endsWith(`.${t.host}`))) &&
        matchesGlob(t.name, name),
    );
  }

  #placeOf(address: string): TagKey {
    const base = `http://${this.ground.siteHost}/`;
    if (!/[/.]/.test(address) || !URL.canParse(address, base)) return { host: '', name: address };
    const url = new URL(address, base);
    return { host: url.hostname, name: requestName(url) };
  }

  #remember(value: string): void {
    if (value.length >= LEAST_VALUE && this.#values.size < 500) this.#values.add(value);
  }

  /** The same within a phase is counted, and told once. */
  #put(event: Partial<VisitEvent> & Pick<VisitEvent, 'what' | 'key' | 'words' | 'cell'>): VisitEvent {
    const { phase } = this;
    const id = `${phase}\n${event.key}\n${event.cell}\n${event.verdict ?? ''}`;
    const known = this.#known.get(id);
    if (known) {
      known.times++;
      return known;
    }
    const put: VisitEvent = {
      ...{ purpose: null, host: '', name: '', cause: [], why: '' },
      ...event,
      ...{ at: Date.now() - this.#begun, phase, times: 1 },
    };
    this.#known.set(id, put);
    if (this.events.length < MOST_EVENTS) this.events.push(put);
    return put;
  }
}

function labelOf({ host, name }: TagKey, address: string): string {
  const file = name.split('/').filter(Boolean).at(-1);
  return host ? `${host}: ${file ?? '/'}` : address.slice(0, 120);
}

function isOwn(host: string, site: string): boolean {
  return host === site || host.endsWith(`.${site}`) || site.endsWith(`.${host}`);
}

function hostOf(origin: string): string {
  return URL.canParse(origin) ? new URL(origin).hostname : origin;
}
