import type { CarriedLevel, Marking } from './marking.ts';

/** What is put into an invitation, before it is encoded. */
export interface CalendarPut {
  readonly at: number;
  readonly text: string;
}

/** RFC 5545, 3.1: octets of a line. */
const LINE = 74;
const LEVEL = 'X-YARE-LEVEL';
const LEVEL_NAME = 'X-YARE-LEVEL-NAME';

/**
 * What marks every event, task and note of a calendar (RFC 5545), given one character a byte: header and footer around its
 * description, and properties that tell the level. Alarms are left alone.
 */
export function calendarPuts(
  content: string,
  marking: Marking,
  level: CarriedLevel,
  newline: string,
): readonly CalendarPut[] {
  const puts: CalendarPut[] = [];
  const lines = logicalLines(content);
  for (const [i, line] of lines.entries()) {
    if (!/^BEGIN:(?:VEVENT|VTODO|VJOURNAL)\s*$/i.test(line.text)) continue;
    const own = ownLines(lines, i + 1);
    const said = own.find((l) => /^DESCRIPTION[;:]/i.test(l.text));
    const { header, footer } = marking;
    const describing =
      !said && (header || footer)
        ? fold(
            `DESCRIPTION:${[header?.text, footer?.text].flatMap((t) => (t === undefined ? [] : [escaped(t)])).join('\\n\\n')}`,
            newline,
          ) + newline
        : '';
    puts.push({
      at: line.next,
      text: `${fold(`${LEVEL}:${escaped(level.id)}`, newline)}${newline}${fold(`${LEVEL_NAME}:${escaped(level.name)}`, newline)}${newline}${describing}`,
    });
    if (said && header)
      puts.push({ at: valueOf(content, said), text: around(`${escaped(header.text)}\\n\\n`, newline, true) });
    if (said && footer)
      puts.push({ at: said.to, text: around(`\\n\\n${escaped(footer.text)}`, newline, false) });
    const shown = own.find((l) => /^X-ALT-DESC[;:]/i.test(l.text));
    if (shown && header)
      puts.push({
        at: valueOf(content, shown),
        text: around(`${escaped(`<p>${plainHtml(header.text)}</p>`)}`, newline, true),
      });
  }
  return puts.toSorted((a, b) => a.at - b.at);
}

interface Line {
  /** Unfolded. */
  readonly text: string;
  readonly from: number;
  /** Where it ends, before its line break, and where the next begins. */
  readonly to: number;
  readonly next: number;
}

function logicalLines(content: string): readonly Line[] {
  return [...content.matchAll(/[^\n]*(?:\n[ \t][^\n]*)*(?:\n|$)/g)].map(({ 0: raw, index: from }) => {
    const kept = raw.replace(/\r?\n$/, '');
    return {
      text: kept.replace(/\r?\n[ \t]/g, ''),
      from,
      to: from + kept.length,
      next: from + raw.length,
    };
  });
}

/** Those of a component, without those of what stands in it. */
function ownLines(lines: readonly Line[], from: number): readonly Line[] {
  const own: Line[] = [];
  let depth = 0;
  for (const line of lines.slice(from)) {
    if (/^BEGIN:/i.test(line.text)) depth++;
    else if (/^END:/i.test(line.text)) {
      if (depth === 0) return own;
      depth--;
    } else if (depth === 0) own.push(line);
  }
  return own;
}

/** Where the value of a line begins: behind the first colon that is not quoted. */
function valueOf(content: string, { from, to }: Line): number {
  let isQuoted = false;
  for (let at = from; at < to; at++) {
    if (content[at] === '"') isQuoted = !isQuoted;
    else if (content[at] === ':' && !isQuoted) return at + 1;
  }
  return to;
}

/** RFC 5545, 3.3.11. */
function escaped(text: string): string {
  return text.replace(/[\\;,]/g, '\\$&').replace(/\r?\n/g, '\\n');
}

function plainHtml(text: string): string {
  return text.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);
}

/** As a line of its own between what stands before and behind. */
function around(text: string, newline: string, goesOn: boolean): string {
  return `${newline} ${fold(text, newline, 1)}${goesOn ? `${newline} ` : ''}`;
}

function fold(text: string, newline: string, begun = 0): string {
  const out: string[] = [];
  let [line, octets] = ['', begun];
  for (const c of text) {
    const more = new TextEncoder().encode(c).length;
    if (octets + more > LINE) {
      out.push(line);
      [line, octets] = ['', 1];
    }
    line += c;
    octets += more;
  }
  return [...out, line].join(`${newline} `);
}
