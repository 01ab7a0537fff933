import PostalMime from 'postal-mime';
import type { Subject } from '../../../../core/cases/requests/person/subject.ts';
import { comparable } from '../../../../core/text/mask.ts';
import type { Connector } from '../../../holdings/offers.ts';

/** A message of a mailbox. */
export interface FoundMessage {
  readonly place: string;
  readonly name: string;
}

/** No mailbox is looked through further, message by message. */
const MOST_MESSAGES = 20_000;
const SHORTEST = 6;

/** Whether a kind of source is a mailbox. */
export const isMailKind = (kind: string): boolean => kind === 'imap' || kind === 'mail folder';

/** What messages are searched for, besides what detectors find by themselves. */
export function mailWords({ emails, numbers, name }: Subject): readonly string[] {
  return [...new Set([...emails, ...numbers, ...(name.includes(' ') ? [name] : [])])].filter(
    (w) => w.length >= SHORTEST,
  );
}

/**
 * Messages of a mailbox, as it is now, that hold one of some words: found by its server where that can look, else by reading
 * each. So are those that no survey has read yet.
 */
export async function messagesWith(
  connector: Connector,
  words: readonly string[],
  signal: AbortSignal,
): Promise<readonly FoundMessage[]> {
  const found: FoundMessage[] = [];
  const wanted = words.map(comparable);
  let left = MOST_MESSAGES;
  const open = [''];
  for (let place = open.pop(); place !== undefined && !signal.aborted; place = open.pop()) {
    const { items, places } = await connector.list(place);
    const above = place === '' ? '' : `${place}/`;
    open.push(...places.map((p) => `${above}${p}`));
    if (items.length === 0) continue;
    if (connector.search) {
      for (const name of await connector.search(place, words)) found.push({ place, name });
      continue;
    }
    for (const listed of await connector.details(place, items.slice(0, left))) {
      left--;
      if (signal.aborted) break;
      const text = await messageText(connector, place, listed);
      if (wanted.some((w) => text.includes(w))) found.push({ place, name: listed.name });
    }
  }
  return found;
}

/** Its fields and body as they are compared; '' of one that cannot be read. */
async function messageText(
  connector: Connector,
  place: string,
  listed: Parameters<Connector['read']>[1],
): Promise<string> {
  try {
    const content = await connector.read(place, listed);
    if (!('bytes' in content)) return '';
    const mail = await PostalMime.parse(content.bytes);
    const people = [mail.from, ...(mail.to ?? []), ...(mail.cc ?? [])].map(
      (p) => `${p?.name ?? ''} ${p?.address ?? ''}`,
    );
    return comparable(
      `${people.join(' ')} ${mail.subject ?? ''} ${mail.text ?? ''} ${mail.html?.replace(/<[^>]*>/g, ' ') ?? ''}`,
    );
  } catch {
    // A survey tells what it could not read.
    return '';
  }
}
