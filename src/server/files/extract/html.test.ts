import { describe, expect, it } from 'vitest';
import { LIMITS } from './extracted.ts';
import { extractHtml } from './html.ts';

function read(html: string): readonly string[] {
  const { text, segments } = extractHtml(html, LIMITS);
  return segments.map((s) => {
    const where = [s.place.part, s.place.role, s.place.row].filter((p) => p !== undefined).join(' ');
    return `${where}${s.heading === undefined ? '' : ` <${s.heading}>`}: ${text.slice(s.start, s.end).trim()}`;
  });
}

describe('HTML', () => {
  it('is read as it is seen, block by block, and without scripts and styles', () => {
    const { text } = extractHtml(
      '<!doctype html><title>Letter</title><style>p{}</style><p>Dear <b>Tove</b>,</p><p>call\n us</p><script>var x = 1</script>',
      LIMITS,
    );
    expect(text.trim()).toBe('Letter\nDear Tove,\ncall us');
  });

  it('has tables with headings above or before', () => {
    expect(
      read(
        '<table><tr><th>Name</th><th>Phone</th></tr><tr><td>Tove</td><td>32145566</td></tr></table><table><tr><th>Name</th><td>Osei</td></tr><tr><th>CPR</th><td>070761-4285</td></tr></table>',
      ),
    ).toEqual([
      'table 1: Name',
      'table 1: Phone',
      'table 2 <Name>: Tove',
      'table 2 <Phone>: 32145566',
      'table 1: Name',
      'table 1 <Name>: Osei',
      'table 2: CPR',
      'table 2 <CPR>: 070761-4285',
    ]);
  });

  it('calls what is filled in by its label, and a description by its term', () => {
    expect(
      read(
        '<label for="a">Full name</label><input id="a" name="f1" value="Tove Lindqvist"><input name="cpr" value="070761-4285"><label for="n">Notes</label><textarea id="n">asthma</textarea><dl><dt>Born</dt><dd>1970-04-05</dd></dl><p>after</p>',
      ),
    ).toEqual([
      ': Full name',
      'attribute <Full name>: Tove Lindqvist',
      'attribute <cpr>: 070761-4285',
      ': Notes',
      ' <Notes>: asthma',
      ': Born',
      ' <Born>: 1970-04-05',
      ': after',
    ]);
  });

  it('has what stands in links, comments, and data for machines', () => {
    expect(
      read(
        '<a href="mailto:tove%40x.example?subject=x">write</a><!-- CPR 070761-4285 --><script type="application/ld+json">{"@type":"Person","telephone":"32145566"}</script><meta name="author" content="Osei Darko">',
      ),
    ).toEqual(
      expect.arrayContaining([
        ': write',
        'link: tove@x.example',
        'comment: CPR 070761-4285',
        'script <@type>: Person',
        'script <telephone>: 32145566',
        'attribute <author>: Osei Darko',
      ]),
    );
  });

  it('that is hostile comes to an end', () => {
    for (const html of [
      '<div>'.repeat(3000),
      '<table><tr><td>'.repeat(300),
      '<a href="mailto:%E0%A4%A">x</a>',
      '<script type="application/json">{"a":',
      '\0<p>\ufffd',
    ])
      expect(() => extractHtml(html, LIMITS)).not.toThrow();
  });
});
