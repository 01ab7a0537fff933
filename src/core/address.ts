/** An IP address as its bytes: 4 for IPv4, 16 for IPv6. */
type Bytes = readonly number[];

/**
 * Cuts an address down so that it no longer points at one household: IPv4 to /24, IPv6 to /48, in the canonical
 * text of RFC 5952. An IPv4 address mapped into IPv6 counts as IPv4. `undefined` for what is no address.
 */
export function truncateAddress(text: string): string | undefined {
  const bytes = parseAddress(text);
  if (!bytes) return undefined;
  return bytes.length === 4
    ? `${bytes.slice(0, 3).join('.')}.0`
    : formatIPv6([...bytes.slice(0, 6), ...Array<number>(10).fill(0)]);
}

/**
 * Whether an outgoing request may go to this address: only those the IANA special-purpose registries (RFC 6890)
 * call globally reachable. What is no address is not public.
 */
export function isPublicAddress(text: string): boolean {
  const bytes = parseAddress(text);
  if (!bytes) return false;
  if (bytes.length === 4) return !PRIVATE_V4.some((range) => within(bytes, range));
  const embedded = embeddedIPv4(bytes);
  if (embedded) return isPublicAddress(embedded.join('.'));
  return within(bytes, GLOBAL_UNICAST) && !PRIVATE_V6.some((range) => within(bytes, range));
}

interface Range {
  readonly base: Bytes;
  readonly bits: number;
}

const range = (cidr: string): Range => {
  const [address, bits] = cidr.split('/');
  return { base: parseBytes(address ?? '') ?? [], bits: Number(bits) };
};

const PRIVATE_V4 = [
  '0.0.0.0/8',
  '10.0.0.0/8',
  '100.64.0.0/10',
  '127.0.0.0/8',
  '169.254.0.0/16',
  '172.16.0.0/12',
  '192.0.0.0/24',
  '192.0.2.0/24',
  '192.88.99.0/24',
  '192.168.0.0/16',
  '198.18.0.0/15',
  '198.51.100.0/24',
  '203.0.113.0/24',
  '224.0.0.0/4',
  '240.0.0.0/4',
].map(range);
const GLOBAL_UNICAST = range('2000::/3');
const PRIVATE_V6 = ['2001::/23', '2001:db8::/32', '3fff::/20'].map(range);
const MAPPED = range('::ffff:0:0/96');
const NAT64 = range('64:ff9b::/96');
const SIX_TO_FOUR = range('2002::/16');

function embeddedIPv4(bytes: Bytes): Bytes | undefined {
  if (within(bytes, MAPPED) || within(bytes, NAT64)) return bytes.slice(12);
  if (within(bytes, SIX_TO_FOUR)) return bytes.slice(2, 6);
  return undefined;
}

function within(bytes: Bytes, { base, bits }: Range): boolean {
  if (bytes.length !== base.length) return false;
  for (let i = 0; i < bits; i += 8) {
    const mask = bits - i >= 8 ? 0xff : (0xff << (8 - (bits - i))) & 0xff;
    if (((bytes[i / 8] as number) & mask) !== ((base[i / 8] as number) & mask)) return false;
  }
  return true;
}

/** Reads the strict forms only: no octal, hexadecimal or shortened IPv4, no zone. */
function parseAddress(text: string): Bytes | undefined {
  const bytes = parseBytes(text);
  return bytes && within(bytes, MAPPED) ? bytes.slice(12) : bytes;
}

function parseBytes(text: string): Bytes | undefined {
  return text.includes(':') ? parseIPv6(text) : parseIPv4(text);
}

function parseIPv4(text: string): Bytes | undefined {
  const parts = text.split('.');
  if (parts.length !== 4 || !parts.every((p) => /^(0|[1-9]\d{0,2})$/.test(p) && Number(p) < 256))
    return undefined;
  return parts.map(Number);
}

function parseIPv6(text: string): Bytes | undefined {
  const halves = text.split('::');
  if (halves.length > 2) return undefined;
  const head = groups(halves[0] ?? '');
  const tail = halves.length === 2 ? groups(halves[1] ?? '') : [];
  if (!head || !tail) return undefined;
  const missing = 16 - head.length - tail.length;
  if (halves.length === 2 ? missing < 2 : missing !== 0) return undefined;
  return [...head, ...Array<number>(missing).fill(0), ...tail];
}

function groups(text: string): number[] | undefined {
  if (text === '') return [];
  const out: number[] = [];
  const parts = text.split(':');
  for (const [i, part] of parts.entries()) {
    if (i === parts.length - 1 && part.includes('.')) {
      const v4 = parseIPv4(part);
      if (!v4) return undefined;
      out.push(...v4);
    } else if (/^[0-9a-f]{1,4}$/i.test(part)) {
      const n = parseInt(part, 16);
      out.push(n >> 8, n & 0xff);
    } else return undefined;
  }
  return out;
}

function formatIPv6(bytes: Bytes): string {
  const words = Array.from(
    { length: 8 },
    (_, i) => ((bytes[2 * i] as number) << 8) | (bytes[2 * i + 1] as number),
  );
  let best = { start: -1, length: 1 };
  for (let start = 0; start < 8; start++) {
    let length = 0;
    while (words[start + length] === 0) length++;
    if (length > best.length) best = { start, length };
  }
  const hex = (part: readonly number[]) => part.map((w) => w.toString(16)).join(':');
  if (best.start < 0) return hex(words);
  return `${hex(words.slice(0, best.start))}::${hex(words.slice(best.start + best.length))}`;
}
