import { describe, expect, it } from 'vitest';
import { bestLikeness, LIKENESS_FROM, likeness, likenessTemplate } from './likeness.ts';

const FORM = `Incident report of the port of Halmsund. Name of the person who reports: ____. Date and hour: ____.
Describe in your own words what happened, where on the quay or the ship it happened, and who was there to see it.
Was anybody hurt? Tell which part of the body, and what was done at once. Was a doctor called, and when did the doctor come?
Tell what was damaged, who owns it, and what it may cost to mend. I have told the truth to the best of my knowledge, and I
know that this report is kept for three years and is read by the harbour master and the insurer only.
Signature of the person who reports: ____. Received by the harbour office on: ____.`;
const OTHER = `The harbour master and the insurer met on the quay to talk about the season. The ship was late, the doctor came along, and
the office served coffee. In your own words, what was the best part of the day? Somebody said it may cost more to mend the old ramp than to
build another, and that the report of last year told the truth. The rest of the evening was spent on board, where the cook had made soup.`;
const form = likenessTemplate('incident.docx', FORM);

describe('likeness', () => {
  it('is 1 for the form itself, in another order, case and form', () => {
    expect(likeness(form, FORM).measure).toBe(1);
    expect(likeness(form, FORM.toUpperCase().replace(/\s+/g, '\n\t')).measure).toBe(1);
    const turned = FORM.split('\n').reverse().join('\n\n');
    expect(likeness(form, turned).measure).toBeGreaterThan(0.95);
  });

  it('knows a filled-in copy, and tells its parts', () => {
    const filled = FORM.replace('____', 'Tove Lindqvist')
      .replace('____', '3 May, half past nine')
      .replace('____', 'T. L.')
      .replace('____', '4 May');
    const l = likeness(form, filled);
    expect(l).toMatchObject({ how: 'copy' });
    expect(l.measure).toBeGreaterThan(0.95);
    expect(l.parts.length).toBeGreaterThan(1);
    expect(filled.slice(l.parts[0]?.start, l.parts[0]?.end)).toMatch(/^Incident report .* who reports/);
  });

  it('knows a slightly changed copy and an excerpt within another letter', () => {
    let n = 0;
    const changed = FORM.replace(/\b\w{4,}\b/g, (w) => (++n % 9 === 0 ? 'other' : w));
    expect(likeness(form, changed).measure).toBeGreaterThan(0.75);
    const excerpt = `${OTHER}\n${FORM.split('\n').slice(2, 5).join('\n')}\n${OTHER}`;
    expect(likeness(form, excerpt).measure).toBeGreaterThan(LIKENESS_FROM);
  });

  it('does not take a letter with the same words for it', () => {
    expect(likeness(form, OTHER).measure).toBeLessThan(LIKENESS_FROM);
    expect(likeness(form, '').measure).toBe(0);
  });

  it('chooses the nearest of several, and refuses a form of a few words', () => {
    const second = likenessTemplate('other.docx', OTHER);
    expect(bestLikeness([form, second], OTHER)?.template).toBe('other.docx');
    expect(() => likenessTemplate('tiny', 'Name: ____ Date: ____')).toThrow('too few words');
  });
});
