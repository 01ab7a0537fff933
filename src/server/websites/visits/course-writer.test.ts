import { describe, expect, it } from 'vitest';
import { FIRST_PURPOSES } from '../../../core/websites/notice/purpose.ts';
import { regimeOf } from '../../../core/websites/notice/regime.ts';
import { tracker } from '../../../core/websites/trackers/tracker.fixture.ts';
import type { Cause } from '../../../core/websites/trackers/tracker.ts';
import type { SeenCookie, SeenRequest } from '../crawl/seen.ts';
import { CourseWriter, type VisitGround } from './course-writer.ts';
import type { Told } from './told.ts';

const WAITS = { preferences: 'waits', measurement: 'waits', advertising: 'waits' } as const;
const WAVE: Cause = { what: 'script', url: 'https://wave.example/w.js' };
const known = (kind: 'request' | 'cookie', host: string, name: string, purpose: string) => ({
  tracker: tracker({ kind, host, name }),
  ...{ purpose, essential: purpose === 'essential' },
});

function writer(over: Partial<VisitGround> = {}): CourseWriter {
  return new CourseWriter({
    ...{ siteHost: 'www.site.example', visitorHost: 'visitor.example', regime: regimeOf('DK') },
    ...{ purposes: FIRST_PURPOSES, adapting: [], needs: [] },
    wish: { pages: ['/'], region: 'DK', chosen: [], gpc: false },
    sorted: [
      known('request', 'wave.example', '/w.js', 'measurement'),
      known('request', 'wave.example', '/hit', 'measurement'),
      known('cookie', 'site.example', 'uid_*', 'measurement'),
    ],
    ...over,
  });
}
const asked = (url: string, over: Partial<SeenRequest> = {}): SeenRequest => ({
  ...{ what: 'request', url, resource: 'script', body: '', headers: {}, by: 'page', refused: '' },
  ...{ cause: [], moment: 'load' },
  ...over,
});
const cookie = (name: string, domain: string, value = 'x'.repeat(20)): SeenCookie => ({
  ...{ what: 'cookie', name, value, domain, lifetime: 86_400, by: 'script', refused: '', top: false },
  traits: { httpOnly: false, secure: false, sameSite: 'unset', partitioned: false },
  ...{ cause: [WAVE], moment: 'load' },
});
const state = (what: 'start' | 'state', over: object = {}): Told => ({
  what,
  state: { answered: what === 'state', region: 'DK', regime: 'ask first', purposes: { ...WAITS, ...over } },
});
const short = (w: CourseWriter) =>
  w.events.map((e) => `${e.phase} ${e.words}${e.cell && `: ${e.cell}`}${e.verdict ? ` (${e.verdict})` : ''}`);

describe('the course of a visit', () => {
  it('counts as answered what comes once the gate has the answer, and not while somebody is about to press', () => {
    const w = writer();
    w.willAnswer = 'allows all';
    w.told(state('start'));
    w.saw(asked('https://wave.example/w.js'));
    w.told({ what: 'answer' });
    w.told(state('state', { measurement: 'allowed' }));
    w.saw(asked('https://wave.example/w.js'));
    w.told({ what: 'answer' });
    expect(short(w)).toEqual([
      '0 gate starts: Denmark, ask first',
      '0 wave.example: w.js: ran (too early)',
      '1 the visitor answers: allows all',
      '1 state changes',
      '1 wave.example: w.js: ran (permitted)',
    ]);
  });

  it('tells again after a refusal what is still held, and not what was allowed meanwhile', () => {
    const w = writer();
    const held = (name: string, purpose: string): Told => ({ what: 'held', name, purpose });
    w.told(state('start'));
    w.told(held('https://wave.example/w.js', 'measurement'));
    w.told(held('//ads.example/a.js', 'advertising'));
    w.told(held('//ads.example/a.js', 'advertising'));
    w.told({ what: 'answer' });
    w.told(state('state', { measurement: 'allowed', advertising: 'refused' }));
    expect(short(w).filter((e) => e.includes('held'))).toEqual([
      '0 wave.example: w.js: held',
      '0 ads.example: a.js: held',
      '1 ads.example: a.js: held',
    ]);
    expect(w.events.find((e) => e.host === 'ads.example')?.times).toBe(2);
  });

  it('leaves out what the site itself is made of, the notice’s service, and what is ours', () => {
    const w = writer();
    for (const url of ['https://www.site.example/site.css', 'https://visitor.example/k.js'])
      w.saw(asked(url));
    w.saw(asked('https://other.example/x', { refused: 'the page’s policy forbids it' }));
    w.saw(cookie('yare_choice', 'www.site.example'));
    expect(w.events).toEqual([]);
    // A cookie of the whole domain is known by its pattern.
    w.saw(cookie('uid_77', '.site.example'));
    expect(short(w)).toEqual(['0 uid_77 set, 1 day: set (too early)']);
  });

  it('calls reduced what an adapting tag asks for without identifiers, and a leak what carries one', () => {
    const w = writer({ adapting: [{ host: 'wave.example', name: '/w.js' }] });
    w.told(state('start'));
    w.saw(asked('https://wave.example/hit?a=1', { cause: [WAVE] }));
    w.saw(cookie('own', 'www.site.example', 'known-by-this-value'));
    w.saw(asked('https://wave.example/hit?u=known-by-this-value', { cause: [WAVE] }));
    expect(short(w).filter((e) => e.includes('hit'))).toEqual([
      '0 wave.example: hit: reduced (reduced)',
      '0 wave.example: hit: ran (too early)',
    ]);
  });

  it('goes by what somebody said of a tag that no sweep has met', () => {
    const needs = [{ host: 'new.example', name: '/n.js', purpose: 'advertising', essential: false }];
    const w = writer({ needs });
    w.saw(asked('https://new.example/n.js'));
    w.saw(asked('https://unknown.example/u.js'));
    expect(short(w)).toEqual([
      '0 new.example: n.js: ran (too early)',
      '0 unknown.example: u.js: ran (unsorted)',
    ]);
  });
});
