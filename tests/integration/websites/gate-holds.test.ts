import { afterAll, beforeAll, expect, it } from 'vitest';
import type { GateHold } from '../../../src/core/websites/trackers/fix.ts';
import type { Visitor } from '../../../src/core/websites/trackers/visitor.ts';
import { crawl } from '../../../src/server/websites/crawl/crawl.ts';
import { CrawlGround } from './crawl-plan.ts';
import { ScriptGround } from './script-ground.ts';

const hold = (kind: GateHold['kind'], name: string, host = 'tally.localhost'): GateHold => ({
  kind,
  name,
  host,
  purpose: 'measurement',
});
/** What a page's own script does: some of it is held, some is not. */
const DOES = `
const s = document.createElement('script'); s.src = '//T/t.js'; document.head.append(s);
new Image().src = '//T/p1.gif';
const i = new Image(); i.setAttribute('src', '//T/p2.gif');
fetch('//T/sent', { mode: 'no-cors' });
navigator.sendBeacon('//T/sent');
const x = new XMLHttpRequest(); x.open('GET', '//T/sent'); x.send();
document.cookie = 'held_id=4f9d0a77c2b14e5b8a31d6e0; Path=/';
localStorage.setItem('held_key', '1');
new Image().src = '//T/free.gif';
document.cookie = 'free_id=4f9d0a77c2b14e5b8a31d6e0; Path=/';
localStorage.setItem('free_key', '1');`;

const script = new ScriptGround();
let ground: CrawlGround;

beforeAll(async () => {
  await script.start();
  script.pages = { '/': `<h1>Held</h1><script>${DOES}</script>` };
  script.holds = [
    hold('request', '/t.js'),
    hold('request', '/p*.gif'),
    hold('request', '/sent'),
    hold('cookie', 'held_*', 'held.localhost'),
    hold('storage', 'held_key', 'held.localhost'),
  ];
  ground = await CrawlGround.on(script.port);
});
afterAll(async () => {
  await ground.leave();
  script.stop();
});

const seen = async (visitor: Visitor) => {
  const result = await crawl(ground.plan('held', { visitor }), new AbortController().signal, () => {});
  return result.sightings
    .map((s) => s.name)
    .filter((name) => !/^yare_/.test(name))
    .toSorted();
};
const FREE = ['/free.gif', 'free_id', 'free_key'];

it('holds what the page’s scripts ask for and write, and nothing else, until it is allowed', async () => {
  expect(await seen('before')).toEqual(FREE);
  expect(await seen('refused')).toEqual(FREE);
});

it('lets go of it once its purpose is allowed, at once and on the pages after', async () => {
  const all = ['/p1.gif', '/p2.gif', '/sent', '/t.js', 'held_id', 'held_key', ...FREE].toSorted();
  expect(await seen('accepted')).toEqual(all);
  expect(await seen('chosen')).toEqual(all);
});
