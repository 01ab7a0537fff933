/** The visitor's choice as their browser keeps it. */
export interface KeptChoice {
  readonly version: number;
  readonly allowed: readonly string[];
  readonly key: string;
  /** Unix seconds. */
  readonly at: number;
  /** Receipt number, once the record is acknowledged. */
  readonly receipt: string;
}

const NAME = 'yare_choice';

/** The newest, where one for this host and one for its domain stand side by side. */
export function readChoice(cookies: string): KeptChoice | undefined {
  return readCookie(cookies, NAME)
    .flatMap((value) => readOne(value) ?? [])
    .reduce<KeptChoice | undefined>((newest, c) => (newest && newest.at >= c.at ? newest : c), undefined);
}

/** Every value that stands under a name. */
export function readCookie(cookies: string, name: string): string[] {
  return cookies
    .split('; ')
    .filter((c) => c.startsWith(`${name}=`))
    .map((c) => c.slice(name.length + 1));
}

function readOne(raw: string): KeptChoice | undefined {
  const [version, at, key, receipt, ...allowed] = decoded(raw).split('.');
  if (!version || !at || !key || !/^[0-9a-f]{32}$/.test(key) || !(Number(version) > 0) || !(Number(at) > 0))
    return undefined;
  return {
    version: Number(version),
    at: Number(at),
    key,
    receipt: receipt ?? '',
    allowed: allowed.filter(Boolean),
  };
}

/** Other scripts may write what is no encoding at all. */
function decoded(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return '';
  }
}

/** The Set-Cookie text that keeps a choice for so many months. */
export function choiceCookie(choice: KeptChoice, months: number, secure: boolean, domain = ''): string {
  const value = [choice.version, choice.at, choice.key, choice.receipt, ...choice.allowed].join('.');
  return cookieText(NAME, encodeURIComponent(value), months, secure, domain);
}

/** The Set-Cookie text that keeps a value for so many months, or takes it away in none. */
export function cookieText(
  name: string,
  value: string,
  months: number,
  secure: boolean,
  domain = '',
): string {
  return `${name}=${value}; Max-Age=${Math.round(months * 30.4375 * 86400)}; Path=/; SameSite=Lax${secure ? '; Secure' : ''}${domain && `; Domain=${domain}`}`;
}

/** The Set-Cookie text that takes the choice away again. */
export function noChoiceCookie(domain = ''): string {
  return `${NAME}=; Max-Age=0; Path=/; SameSite=Lax${domain && `; Domain=${domain}`}`;
}

/**
 * Whether the visitor has to be asked: no choice yet, an older notice than the one that first asked for what is asked
 * now, or a choice older than the notice keeps it.
 */
export function mustAsk(
  choice: KeptChoice | undefined,
  asksSince: number,
  months: number,
  now: number,
): boolean {
  if (!choice) return true;
  return choice.version < asksSince || now - choice.at > months * 30.4375 * 86400;
}

export function newKey(): string {
  return Array.from(crypto.getRandomValues(new Uint8Array(16)), (b) => b.toString(16).padStart(2, '0')).join(
    '',
  );
}
