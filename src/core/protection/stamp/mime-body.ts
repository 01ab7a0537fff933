/** Something that is put into a body. */
export interface Put {
  /** Byte of the content, decoded, before which it stands. */
  readonly at: number;
  /** One character a byte. */
  readonly put: string;
}

/** Where something stands that was put in: bytes of the body as it is sent, or decoded where `isDecoded`. */
export interface Stands {
  readonly at: number;
  readonly length: number;
}

export interface EditedBody {
  readonly wire: string;
  /** In their order. */
  readonly stands: readonly Stands[];
}

/** The content of a body as it is sent (RFC 2045, 6). */
export function decodedBody(wire: string, encoding: string): string {
  switch (encoding) {
    case 'base64':
      return fromBase64(wire);
    case 'quoted-printable':
      return fromQuoted(wire);
    default:
      return wire;
  }
}

/** Whether what is put in is kept by its place in the content, as the body is written anew. */
export function isDecoded(encoding: string): boolean {
  return encoding === 'base64';
}

/** Puts texts into a body; the rest of it is sent as it was sent before. `puts` stand in their order. */
export function withPuts(wire: string, encoding: string, puts: readonly Put[], newline: string): EditedBody {
  if (encoding === 'base64') {
    const { text, stands } = spliced(fromBase64(wire), puts);
    return { wire: toBase64(text, wire, newline), stands };
  }
  if (encoding !== 'quoted-printable') {
    const { text, stands } = spliced(wire, puts);
    return { wire: text, stands };
  }
  const { text, stands } = spliced(
    wire,
    puts.map(({ at, put }) => {
      const on = quotedPlace(wire, at);
      const startsLine = on === 0 || wire[on - 1] === '\n' || put.startsWith(newline);
      const endsLine = put.endsWith('\n') || on === wire.length;
      return {
        at: on,
        put: `${startsLine ? '' : `=${newline}`}${toQuoted(put, newline)}${endsLine ? '' : `=${newline}`}`,
      };
    }),
  );
  return { wire: text, stands };
}

/** Takes out again what stands there. */
export function withoutPuts(
  wire: string,
  encoding: string,
  stands: readonly Stands[],
  newline: string,
): string {
  const cut = (text: string) =>
    stands.toReversed().reduce((t, { at, length }) => t.slice(0, at) + t.slice(at + length), text);
  return encoding === 'base64' ? toBase64(cut(fromBase64(wire)), wire, newline) : cut(wire);
}

/** What stands there, as it was put in. */
export function standing(wire: string, encoding: string, { at, length }: Stands): string {
  return (encoding === 'base64' ? fromBase64(wire) : wire).slice(at, at + length);
}

function spliced(
  text: string,
  puts: readonly Put[],
): { readonly text: string; readonly stands: readonly Stands[] } {
  const stands: Stands[] = [];
  let out = '';
  let last = 0;
  for (const { at, put } of puts) {
    out += text.slice(last, at);
    stands.push({ at: out.length, length: put.length });
    out += put;
    last = at;
  }
  return { text: out + text.slice(last), stands };
}

function fromBase64(wire: string): string {
  // What stands behind its end is none of it; nor is anything else that is no letter of it.
  const letters = (wire.split('=', 1)[0] ?? '').replace(/[^A-Za-z0-9+/]+/g, '');
  return atob(letters.length % 4 === 1 ? letters.slice(0, -1) : letters);
}

/** In lines as long as those of another. */
function toBase64(content: string, like: string, newline: string): string {
  const [first = ''] = like.split(/\r?\n/, 1);
  const isOneLine = !like.trimEnd().includes('\n');
  const width = isOneLine ? (first.length > 76 ? Infinity : 76) : Math.max(4, first.length);
  const letters = btoa(content);
  const lines = width === Infinity ? [letters] : (letters.match(new RegExp(`.{1,${width}}`, 'g')) ?? ['']);
  return lines.join(newline) + (/\r?\n$/.exec(like)?.[0] ?? '');
}

const QUOTED = /=\r?\n|=[0-9A-Fa-f]{2}|[\s\S]/g;

function meant(token: string): string {
  if (token.length === 1) return token;
  return token.endsWith('\n') ? '' : String.fromCharCode(parseInt(token.slice(1), 16));
}

function fromQuoted(wire: string): string {
  return wire.replace(QUOTED, meant);
}

/** Where in a body the byte of its content begins. */
function quotedPlace(wire: string, content: number): number {
  let [at, passed] = [0, 0];
  for (const [token] of wire.matchAll(QUOTED)) {
    const plain = meant(token);
    if (plain !== '' && passed === content) return at;
    at += token.length;
    passed += plain.length;
  }
  return wire.length;
}

export function toQuoted(content: string, newline: string): string {
  return content
    .split(/\r?\n/)
    .map((line) => {
      const tokens = [...line].map((c, i) => {
        const isPlain = /^[!-<>-~]$/.test(c) || (/^[ \t]$/.test(c) && i < line.length - 1);
        return isPlain ? c : `=${c.charCodeAt(0).toString(16).toUpperCase().padStart(2, '0')}`;
      });
      const lines: string[] = [''];
      for (const t of tokens) {
        if ((lines.at(-1)?.length ?? 0) + t.length > 75) lines.push('');
        lines[lines.length - 1] += t;
      }
      return lines.join(`=${newline}`);
    })
    .join(newline);
}
