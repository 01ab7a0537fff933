import { describe, expect, it } from 'vitest';
import { readPeople } from './person-table.ts';
import { toldTable, type ToldPerson } from './preference-message.ts';

const PAGE = { channels: ['email' as const, 'sms' as const], topics: ['news', 'offers'] };

describe('a list of people', () => {
  it('is read by its headings, whatever their order and case', () => {
    const { people, faults } = readPeople(
      ['Name', 'ADDRESS', 'Channels', 'topics', 'shoe size'],
      [
        ['Mona Holm', ' Mona@Harbour.Example ', 'email; sms', 'news', '39'],
        ['Jens', 'jens@harbour.example', 'email', '', '44'],
      ],
      PAGE,
    );
    expect(faults).toEqual([]);
    expect(people).toEqual([
      {
        ...{ address: 'mona@harbour.example', name: 'Mona Holm', number: '', language: '' },
        said: { channels: ['email', 'sms'], topics: ['news'] },
      },
      // A way without a topic is no yes to anything.
      {
        ...{ address: 'jens@harbour.example', name: 'Jens', number: '', language: '' },
        said: { channels: [], topics: [] },
      },
    ]);
  });

  it('tells nothing of choices where one of the two columns lacks', () => {
    const { people } = readPeople(['address', 'topics'], [['a@b.example', 'news']], PAGE);
    expect(people[0]?.said).toBeUndefined();
  });

  it('names each cell that cannot be taken', () => {
    const { faults } = readPeople(
      ['address', 'language', 'channels', 'topics'],
      [
        ['nobody', 'en', 'email', 'news'],
        ['a@b.example', 'English!', 'email', 'news'],
        ['c@d.example', 'en', 'fax', 'weather'],
        ['e@f.example', 'en', '', ''],
        ['E@F.example', 'en', '', ''],
      ],
      PAGE,
    );
    expect(faults.map((f) => [f.row, f.column])).toEqual([
      [1, 'address'],
      [2, 'language'],
      [3, 'channels'],
      [3, 'topics'],
      [5, 'address'],
    ]);
    expect(faults[2]?.words).toBe('“fax” is none of email, sms.');
  });

  it('says which column it lacks', () => {
    expect(readPeople(['mail', 'name'], [['a@b.example', 'A']], PAGE).faults[0]?.words).toContain(
      'mail, name',
    );
  });
});

describe('the table for a mailing tool', () => {
  it('has a column for each way and topic, and says who gets nothing', () => {
    const person: ToldPerson = {
      ...{ address: 'a@b.example', number: '7', name: 'A', language: 'en', at: '', receipt: '' },
      ...{ page: 'https://x.example/p', leave: 'https://x.example/l', channels: ['sms'], topics: ['offers'] },
    };
    const [head, yes, no] = toldTable([person, { ...person, channels: [], topics: [] }], PAGE.topics);
    const cell = (row: readonly string[] | undefined, name: string) => row?.[head?.indexOf(name) ?? -1];
    expect(cell(yes, 'by sms')).toBe('yes');
    expect(cell(yes, 'by email')).toBe('no');
    expect(cell(yes, 'about offers')).toBe('yes');
    expect(cell(yes, 'about news')).toBe('no');
    expect(cell(yes, 'nothing')).toBe('no');
    expect(cell(no, 'nothing')).toBe('yes');
    expect(head).toHaveLength(yes?.length ?? 0);
  });
});
