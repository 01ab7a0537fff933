/** The structured data element that tells of an act; the number is that of examples (RFC 5612). */
const ELEMENT = 'activity@32473';

/** What a message tells: an event of ours, not yet checked, and the token of whoever tells it. */
export type FromSyslog =
  | {
      readonly event: Readonly<Record<string, unknown>>;
      readonly token: string;
      readonly id: string | undefined;
    }
  | { readonly why: string };

const HEAD = /^<(\d{1,3})>1 (\S{1,64}) (\S{1,255}) (\S{1,48}) (\S{1,128}) (\S{1,32}) /;
const STAMP = /^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(?:\.\d{1,6})?(?:Z|[+-]\d\d:\d\d)$/;

/**
 * Reads a message of RFC 5424 that tells of an act in its structured data, in one element `activity@32473`: `token`, `kind`,
 * `act`, `person`, and as they are known `id`, `channel`, `to` (often), `program`, `network`, `name`, `format`, `size`,
 * `level`, `origin`, `found` (`detector:matches` or `detector:matches:confidence`, often). Free text is never read.
 */
export function fromSyslog(message: string): FromSyslog {
  const head = HEAD.exec(message);
  if (!head) return { why: 'It is no message of RFC 5424.' };
  const stamp = head[2] ?? '';
  if (Number(head[1]) > 191) return { why: 'Its priority is none.' };
  if (!STAMP.test(stamp) || Number.isNaN(Date.parse(stamp))) return { why: 'Its time is none.' };
  const found = elementOf(message.slice(head[0].length));
  if (typeof found === 'string') return { why: found };
  const one = (name: string) => found.find(([n]) => n === name)?.[1];
  const all = (name: string) => found.flatMap(([n, v]) => (n === name ? [v] : []));
  const channel = one('channel');
  const known = <T>(name: string, value: T | undefined) => (value === undefined ? {} : { [name]: value });
  const number = (name: string) => {
    const text = one(name);
    return text === undefined ? undefined : Number(text);
  };
  const item = {
    ...known('name', one('name')),
    ...known('format', one('format')),
    ...known('size', number('size')),
    ...known('level', one('level')),
    ...known('origin', one('origin')),
    ...known('people', number('people')),
  };
  return {
    token: one('token') ?? '',
    id: one('id'),
    event: {
      at: new Date(stamp).toISOString(),
      ...{ kind: one('kind'), act: one('act'), person: one('person') },
      ...known('channel', channel),
      ...{ towards: all('to') },
      ...known('program', one('program')),
      ...known('network', one('network')),
      ...(Object.keys(item).length > 0 || channel !== undefined ? { item } : {}),
      findings: all('found').map(findingOf),
    },
  };
}

function findingOf(text: string) {
  const [detector, matches, confidence] = text.split(':');
  return {
    detector,
    matches: Number(matches),
    confidence: confidence === undefined ? 1 : Number(confidence),
  };
}

type Parameters = readonly (readonly [name: string, value: string])[];

/** Parameters of our element; why not where there is none, or what stands there is no structured data. */
function elementOf(text: string): Parameters | string {
  let at = 0;
  while (text[at] === '[') {
    const id = /^\[([^ =\]"]{1,32})/.exec(text.slice(at))?.[1];
    if (id === undefined) return 'Its structured data is none.';
    at += 1 + id.length;
    const found: [string, string][] = [];
    while (text[at] === ' ') {
      const name = /^ ([^ =\]"]{1,32})="/.exec(text.slice(at, at + 40))?.[1];
      if (name === undefined) return 'Its structured data is none.';
      at += name.length + 3;
      let value = '';
      for (; text[at] !== '"'; at++) {
        if (at >= text.length) return 'Its structured data has no end.';
        // Only these three are escaped; a backslash before anything else stands for itself.
        if (text[at] === '\\' && ['"', '\\', ']'].includes(text[at + 1] ?? '')) at++;
        else if (text[at] === ']') return 'Its structured data is none.';
        value += text[at] ?? '';
      }
      at++;
      found.push([name, value]);
    }
    if (text[at] !== ']') return 'Its structured data has no end.';
    at++;
    if (id === ELEMENT) return found;
  }
  return `It tells of no act: it has no element ${ELEMENT}.`;
}

/**
 * Cuts a stream into messages by the count of octets before each (RFC 6587, 3.4.1; RFC 5425). Feed it what arrives; throws a
 * RangeError where what stands there is no count, or counts more than `most`.
 */
export class OctetFrames {
  #rest: Uint8Array = new Uint8Array(0);

  constructor(readonly most: number) {}

  add(bytes: Uint8Array): readonly string[] {
    const all = new Uint8Array(this.#rest.length + bytes.length);
    all.set(this.#rest);
    all.set(bytes, this.#rest.length);
    const messages: string[] = [];
    let at = 0;
    for (;;) {
      const space = all.indexOf(32, at);
      const digits = new TextDecoder('latin1').decode(
        all.subarray(at, Math.min(space < 0 ? all.length : space, at + 12)),
      );
      if (digits !== '' && !/^[1-9]\d{0,8}$/.test(digits))
        throw new RangeError('No count of octets stands there.');
      if (space < 0) break;
      const length = Number(digits);
      if (!(length > 0) || length > this.most)
        throw new RangeError(`A message is at most ${this.most} octets.`);
      if (all.length < space + 1 + length) break;
      messages.push(new TextDecoder().decode(all.subarray(space + 1, space + 1 + length)));
      at = space + 1 + length;
    }
    this.#rest = all.slice(at);
    return messages;
  }
}
