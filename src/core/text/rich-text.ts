/** Words in one manner. */
export interface Run {
  readonly text: string;
  readonly strong?: true;
  readonly em?: true;
  /** Where the words lead. */
  readonly href?: string;
}

export type RichBlock =
  | { readonly is: 'paragraph'; readonly runs: readonly Run[] }
  | { readonly is: 'list'; readonly items: readonly (readonly Run[])[] };

/** Addresses that words may lead to: of the web, of the site itself, or of a mailbox. */
const HREF = /^(https?:\/\/[^\s()]+|mailto:[^\s()]+|\/(?!\/)[^\s()]*)$/;

export function mayLeadTo(href: string): boolean {
  return HREF.test(href);
}

/**
 * Reads the small markup of a notice's text: `**strong**`, `_emphasis_`, `[words](address)`, a line that begins with `- `
 * for each item of a list, an empty line between paragraphs, and a backslash before a sign that is meant as it stands.
 * What is none of it is text; nothing is ever markup of a page.
 */
export function readRich(text: string): readonly RichBlock[] {
  return text
    .split(/\n{2,}/)
    .map((b) => b.trim())
    .filter(Boolean)
    .flatMap((block): readonly RichBlock[] => {
      const lines = block.split('\n');
      if (lines.every((l) => l.startsWith('- ')))
        return [{ is: 'list', items: lines.map((l) => runsOf(l.slice(2))) }];
      return [{ is: 'paragraph', runs: runsOf(block) }];
    });
}

const MARK = /\\([\\*_[\]-])|\*\*|_|\[((?:\\.|[^\]\\])+)\]\(([^()\s]+)\)/g;

function runsOf(text: string, manner: Omit<Run, 'text'> = {}): readonly Run[] {
  const runs: Run[] = [];
  let words = '';
  let { strong, em } = manner;
  const end = () => {
    if (words !== '') runs.push({ text: words, ...manner, ...(strong && { strong }), ...(em && { em }) });
    words = '';
  };
  let at = 0;
  for (const match of text.matchAll(MARK)) {
    words += text.slice(at, match.index);
    at = match.index + match[0].length;
    const [whole, escaped, label, href] = match;
    if (escaped !== undefined) words += escaped;
    else if (label !== undefined && href !== undefined) {
      if (manner.href === undefined && mayLeadTo(href)) {
        end();
        runs.push(...runsOf(label, { ...(strong && { strong }), ...(em && { em }), href }));
      } else words += whole;
    } else if (isLone(whole, at, text, whole === '**' ? strong : em)) words += whole;
    else {
      end();
      if (whole === '**') strong = strong ? undefined : true;
      else em = em ? undefined : true;
    }
  }
  words += text.slice(at);
  end();
  return runs;
}

/** A sign that nothing answers is meant as it stands. */
function isLone(sign: string, after: number, text: string, open: true | undefined): boolean {
  return !open && !text.slice(after).replace(/\\./g, '').includes(sign);
}

const escape = (text: string) => text.replace(/[\\*_[\]]/g, '\\$&');

/** The same as it is kept. */
export function writeRich(blocks: readonly RichBlock[]): string {
  return blocks
    .map((b) =>
      b.is === 'list'
        ? b.items.map((i) => `- ${writeRuns(i)}`).join('\n')
        : writeRuns(b.runs).replace(/^- /gm, '\\- '),
    )
    .filter((b) => b.trim() !== '')
    .join('\n\n');
}

function writeRuns(runs: readonly Run[]): string {
  return runs
    .map(({ text, strong, em, href }) => {
      const inner = `${strong ? '**' : ''}${em ? '_' : ''}${escape(text)}${em ? '_' : ''}${strong ? '**' : ''}`;
      return href === undefined
        ? inner
        : `${strong ? '**' : ''}${em ? '_' : ''}[${escape(text)}](${href})${em ? '_' : ''}${strong ? '**' : ''}`;
    })
    .join('');
}

/** The words alone. */
export function plainRich(text: string): string {
  return readRich(text)
    .map((b) =>
      (b.is === 'list' ? b.items : [b.runs]).map((runs) => runs.map((r) => r.text).join('')).join('; '),
    )
    .join(' ');
}
