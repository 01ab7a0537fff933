import type { Page } from 'playwright-core';
import { z } from 'zod';
import { LEAVE_ALONE } from '../visit/attention.ts';
import type { NoticeAct, NoticeWay } from '../../../../core/websites/reading/notice-way.ts';
import { pause } from '../../../processes/pause.ts';
import { inTime, within } from '../../../processes/within.ts';
import type { PageWorld } from '../page/page-world.ts';
import { ASKING, findBoxes, FoundBox, KEPT, type FoundControl } from './find-boxes.ts';

/** A box that may be a notice, in a frame of the page. */
export type BoxThere = FoundBox & { readonly frame: string };

/** What a press came to, and the box that opened with it. */
export type Came =
  | { readonly outcome: 'gone' | 'nothing' | 'leads away' | 'not there' }
  | { readonly outcome: 'opens'; readonly box: BoxThere };

const LOOK_MS = 120;
/** A page that answers nothing for so long hangs. */
const ANSWER_MS = 3000;
/** Within so long something is to be seen of a press. */
const PRESSED_MS = 2000;
const MOST_FRAMES = 8;
/** A box below this is looked for in closed shadow trees too. */
const LIKELY = 3;

/** The boxes on a page that may be its notice, in all its frames, likeliest first. */
export async function lookForBoxes(world: PageWorld): Promise<readonly BoxThere[]> {
  const found = await Promise.all(
    world.frames(MOST_FRAMES).map(async (frame) => {
      const asked = { leaveAlone: LEAVE_ALONE, asking: ASKING, framed: frame !== world.main };
      const look = () => inTime(ANSWER_MS, world.run(frame, findBoxes, asked, z.array(FoundBox).max(12)));
      try {
        let boxes = await look();
        if (!boxes.some((b) => b.score >= LIKELY) && (await inTime(ANSWER_MS, world.openClosed(frame))))
          boxes = await look();
        return boxes.map((b) => ({ ...b, frame }));
      } catch {
        // The frame has gone, cannot be looked into, or lets nobody ask.
        return [];
      }
    }),
  );
  return found.flat().toSorted((a, b) => b.score - a.score);
}

/** Waits for a box, at most so long. */
export async function awaitBoxes(
  world: PageWorld,
  mostMs: number,
  wanted: (b: BoxThere) => boolean = (b) => b.score > 0,
): Promise<readonly BoxThere[]> {
  const until = Date.now() + mostMs;
  for (;;) {
    const boxes = await lookForBoxes(world);
    if (boxes.some(wanted) || Date.now() >= until) return boxes;
    await pause(LOOK_MS);
  }
}

/**
 * Goes a way through the notice; what its last press came to, and the share of the window that this control takes. The
 * notice is the likeliest box that has the way's first control.
 */
export async function goWay(page: Page, world: PageWorld, way: NoticeWay): Promise<Came & { size: number }> {
  let came: Came = { outcome: 'nothing' };
  let size = 0;
  for (const [i, act] of way.entries()) {
    const boxes = await lookForBoxes(world);
    const box = boxes.find((b) => canDo(b, act));
    if (!box) return { outcome: 'not there', size };
    if (act.act === 'set') {
      if (!(await setSwitches(world, box, act.on))) return { outcome: 'not there', size };
      continue;
    }
    const control = box.controls.find((c) => isOn(c, act)) as FoundControl;
    size = control.size;
    came = await press(page, world, box, control, boxes);
    if (came.outcome !== 'opens' && i < way.length - 1) return { outcome: 'not there', size };
  }
  return { ...came, size };
}

/** Whether the act can be done on this box. */
export function canDo(box: FoundBox, act: NoticeAct): boolean {
  if (act.act === 'press') return box.controls.some((c) => isOn(c, act));
  return box.switches.length > 0 && act.on.every((words) => box.switches.some((s) => s.words === words));
}

function isOn(control: FoundControl, act: NoticeAct & { act: 'press' }): boolean {
  return control.words === act.words && control.nth === act.nth;
}

/** Presses a control and waits for what comes of it. */
async function press(
  page: Page,
  world: PageWorld,
  box: BoxThere,
  control: FoundControl,
  before: readonly BoxThere[],
): Promise<Came> {
  const path = pathOf(page);
  const there = await within(ANSWER_MS, world.press(box.frame, KEPT, control.index), false);
  if (!there) return { outcome: 'not there' };
  const until = Date.now() + PRESSED_MS;
  let seen = '';
  for (;;) {
    await pause(LOOK_MS);
    if (pathOf(page) !== path) return { outcome: 'leads away' };
    const after = await lookForBoxes(world);
    const came = whatCame(box, before, after);
    // Twice the same, since it may slide or fade.
    const now = `${came.outcome} ${came.outcome === 'opens' ? marksOf(came.box) : ''}`;
    if (came.outcome !== 'nothing' && now === seen) return came;
    if (Date.now() >= until) return came;
    seen = now;
  }
}

/** What became of a box. */
function whatCame(box: BoxThere, before: readonly BoxThere[], after: readonly BoxThere[]): Came {
  const same = after.find((b) => b.element === box.element) ?? after.find((b) => marksOf(b) === marksOf(box));
  if (same) return marksOf(same) === marksOf(box) ? { outcome: 'nothing' } : { outcome: 'opens', box: same };
  const known = new Set(before.map(marksOf));
  const come = after.find(
    (b) => !known.has(marksOf(b)) && b.controls.length > 0 && (b.asks || b.switches.length > 0),
  );
  return come ? { outcome: 'opens', box: come } : { outcome: 'gone' };
}

/** What a visitor can do on a box. */
export function marksOf(box: FoundBox): string {
  return [...box.controls.map((c) => c.words), '', ...box.switches.map((s) => s.words)].join('\n');
}

/** Sets all switches that are not locked; `false` where one did not turn. */
async function setSwitches(world: PageWorld, box: BoxThere, on: readonly string[]): Promise<boolean> {
  for (const s of box.switches) {
    const wanted = on.includes(s.words);
    if (s.locked || s.on === wanted) continue;
    await within(ANSWER_MS, world.press(box.frame, KEPT, wanted ? s.turnsOn : s.turnsOff), false);
  }
  const after = (await lookForBoxes(world)).flatMap((b) => b.switches);
  return box.switches.every((s) => {
    const now = after.find((a) => a.words === s.words);
    return s.locked || now?.on === on.includes(s.words);
  });
}

function pathOf(page: Page): string {
  const url = page.url();
  return URL.canParse(url) ? new URL(url).host + new URL(url).pathname : url;
}
