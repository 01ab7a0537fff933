import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { READING } from '../reading/notice-reading.fixture.ts';
import { z } from 'zod';
import { propose } from '../trackers/proposal.ts';
import { FIRST_PURPOSES } from '../notice/purpose.ts';
import { causeKey, reportDigest, SweepReport, sweepReport } from './sweep-report.ts';
import { tracker } from '../trackers/tracker.fixture.ts';

const VISITORS_OF = (['before', 'refused', 'accepted'] as const).map((visitor) => ({
  visitor,
  tried: visitor !== 'refused',
  incomplete: false,
  operated: null,
  pages: [{ url: 'https://a.example/', status: 200, note: '' }],
  picture: null,
}));
const uid = tracker(
  { name: 'uid', host: 'stats.b.example' },
  {
    party: 'third',
    lifetime: 9e7,
    blockable: true,
    cause: [{ what: 'page', url: 'https://a.example/', line: 3 }],
  },
  { party: 'third', visitor: 'accepted', lifetime: 4e7, pages: 9 },
);
const refused = tracker({ name: 'old', host: 'stats.b.example' }, { party: 'third', refused: 'SameSite' });
const session = tracker({ name: 'sid' }, { setBy: 'http' });
const report = (
  decided: string | null = null,
  incomplete: (v: { readonly visitor: string }) => boolean = () => false,
) =>
  sweepReport({
    site: 'a.example',
    startUrl: 'https://a.example/',
    startedAt: new Date('2026-11-23T10:00:00Z'),
    finishedAt: new Date('2026-11-23T10:02:00Z'),
    state: 'complete',
    terms: { region: 'DK', chosen: [] },
    purposes: FIRST_PURPOSES,
    visitors: VISITORS_OF.map((v) => ({ ...v, incomplete: incomplete(v) })),
    notes: [],
    reading: READING,
    switches: [{ words: 'Visits', purpose: 'measurement', by: 'words', pages: 2 }],
    trackers: [session, refused, uid].map((t) => ({
      tracker: t,
      decided: t === uid ? decided : null,
      proposal: propose(t),
      ranWith: t === uid ? ['Visits'] : [],
    })),
  });

describe('the report of a sweep', () => {
  it('keeps to its own schema, which the documentation holds', () => {
    expect(SweepReport.parse(report())).toEqual(report());
    const file = new URL('../../../../docs/sweep-report.schema.json', import.meta.url);
    expect(JSON.parse(readFileSync(file, 'utf8'))).toEqual(
      JSON.parse(JSON.stringify(z.toJSONSchema(SweepReport))),
    );
  });

  it('tells how the notice was read, and with which switches each tracker ran', () => {
    expect(report().notice).toMatchObject({
      late: true,
      tried: expect.arrayContaining([{ way: '“Sounds good”', outcome: 'answers', ran: 9 }]),
      accept: { way: '“Sounds good”' },
      choose: { way: '“Pick”, all switches off, “Save these”' },
      switches: [{ words: 'Newsroom', purpose: 'measurement' }, { words: 'Corner' }, { locked: true }],
    });
    expect(report().trackers.map((t) => t.ranWith)).toContainEqual(['Visits']);
  });

  it('puts leaks first, judges only who was tried, and tells attempts apart', () => {
    const [first, ...rest] = report().trackers;
    expect(first).toMatchObject({
      name: 'uid',
      party: 'third',
      survivesBlocking: false,
      states: ['before', 'accepted'],
      leaks: ['before'],
      purpose: 'measurement',
      pages: 9,
      lifetime: 9e7,
      cause: [{ what: 'page', line: 3 }],
    });
    expect(Object.keys(first!.verdicts)).toEqual(['before', 'accepted']);
    expect(first!.verdicts.before).toMatchObject({
      verdict: 'leak',
      law: expect.stringContaining('art. 5(3)'),
    });
    expect(rest.find((t) => t.name === 'old')).toMatchObject({ attempts: ['before'], leaks: [] });
    expect(report().counts).toEqual({
      pages: 1,
      trackers: 3,
      leaks: 1,
      presumed: 0,
      unsorted: 0,
      attempts: 1,
    });
  });

  it('says nothing of what a visitor had no time to walk to', () => {
    const cut = report(null, (v) => v.visitor === 'accepted');
    const old = cut.trackers.find((t) => t.name === 'old');
    expect(old?.states).toEqual(['before']);
    expect(Object.keys(old?.verdicts ?? {})).toEqual(['before']);
    // What it did see stands.
    expect(Object.keys(cut.trackers.find((t) => t.name === 'uid')?.verdicts ?? {})).toEqual([
      'before',
      'accepted',
    ]);
  });

  it('takes a decision before a proposal, and changes its digest with every word', () => {
    expect(report('essential').counts.leaks).toBe(0);
    expect(report('essential').trackers.find((t) => t.name === 'uid')).toMatchObject({
      decided: true,
      purpose: 'essential',
    });
    expect(reportDigest(report())).toBe(reportDigest(report()));
    expect(reportDigest(report())).not.toBe(reportDigest({ ...report(), site: 'b.example' }));
  });

  it('names a cause without what moves with every release', () => {
    expect(
      causeKey([
        { url: 'https://a.example/' },
        { url: 'https://b.example/w.js?v=1' },
        { url: 'https://b.example/p' },
      ]),
    ).toBe('b.example/w.js → b.example/p');
  });
});
