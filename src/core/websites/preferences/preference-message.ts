import { CHANNELS } from './preference-phrases.ts';
import { getsNothing, type Preference } from './preference-receipt.ts';

/** How a mailing tool wants to be told: as JSON by event, or as a table. */
export const TOOL_FORMATS = ['json', 'csv'] as const;
export type ToolFormat = (typeof TOOL_FORMATS)[number];
export const TOOL_FORMAT_WORDS: Readonly<Record<ToolFormat, string>> = {
  json: 'JSON, up to 100 people a message',
  csv: 'CSV, up to 2,000 people a message',
};
export const TOGETHER: Readonly<Record<ToolFormat, number>> = { json: 100, csv: 2000 };

/** Somebody as a mailing tool is told of them: how it stands, not what changed, so that one message may come twice. */
export interface ToldPerson extends Preference {
  readonly address: string;
  readonly number: string;
  readonly name: string;
  readonly language: string;
  /** ISO 8601 of their last choice; empty where there is none. What is older than what a tool has is no news. */
  readonly at: string;
  /** Receipt of it. */
  readonly receipt: string;
  /** Their own page, and where a mail program posts that they leave (RFC 8058). */
  readonly page: string;
  readonly leave: string;
}

/** The table for a tool that takes tables: a column a way and a topic, `yes` or `no`. */
export function toldTable(
  people: readonly ToldPerson[],
  topics: readonly string[],
): readonly (readonly string[])[] {
  const head = [
    ...['address', 'number', 'name', 'language'],
    ...CHANNELS.map((c) => `by ${c}`),
    ...topics.map((t) => `about ${t}`),
    ...['nothing', 'at', 'receipt', 'page', 'leave'],
  ];
  const yes = (is: boolean) => (is ? 'yes' : 'no');
  return [
    head,
    ...people.map((p) => [
      ...[p.address, p.number, p.name, p.language],
      ...CHANNELS.map((c) => yes(p.channels.includes(c))),
      ...topics.map((t) => yes(p.topics.includes(t))),
      ...[yes(getsNothing(p)), p.at, p.receipt, p.page, p.leave],
    ]),
  ];
}
