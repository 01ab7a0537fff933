import { describe, expect, it } from 'vitest';
import { LIMITS } from './extracted.ts';
import { extractMarkdown, hasMarkdownTable } from './markdown.ts';

const TABLE = `# Crew

| Name | Mobil | Note |
|:-----|------:|------|
| Tove Lindqvist | 32145566 | a \\| b |
| Osei Darko | 20123456 |  |

Order 32145566 | not a table
`;

describe('a table in Markdown', () => {
  it('is known by its rule', () => {
    expect(hasMarkdownTable(TABLE)).toBe(true);
    expect(hasMarkdownTable('a | b\nc | d\n')).toBe(false);
    expect(hasMarkdownTable('Title\n-----\n')).toBe(false);
  });

  it('keeps the text as it is, with a column for each cell', () => {
    const { text, segments, kind } = extractMarkdown(TABLE, LIMITS);
    expect(kind).toBe('Markdown');
    expect(text).toBe(TABLE);
    expect(segments.map((s) => [text.slice(s.start, s.end), s.heading, s.place.row])).toEqual([
      ['Tove Lindqvist', 'Name', 1],
      ['32145566', 'Mobil', 1],
      ['a \\| b', 'Note', 1],
      ['Osei Darko', 'Name', 2],
      ['20123456', 'Mobil', 2],
    ]);
    expect(segments[0]?.record).toBe(segments[1]?.record);
    expect(segments[0]?.record).not.toBe(segments[4]?.record);
  });

  it('takes the first of two columns for the labels of the second where its heading says so', () => {
    const { text, segments } = extractMarkdown('|Felt|Værdi|\n|-|-|\n|Fødselsdato|12.03.1984|\n', LIMITS);
    expect(segments.map((s) => [text.slice(s.start, s.end), s.heading])).toEqual([
      ['Fødselsdato', 'Felt'],
      ['12.03.1984', 'Fødselsdato'],
    ]);
  });
});
