import type { CDPSession } from 'playwright-core';
import { z } from 'zod';
import type { FrameTree } from './frame-tree.ts';

const NAME = 'yare';
/** Closed shadow trees of a page that are looked into. */
const MOST_CLOSED = 60;

/**
 * Runs functions of ours in a page's frames, in a world of their own: they see the same document, and nothing that scripts
 * of the page have changed. What comes back is read with a schema all the same, since the document is the page's.
 */
export class PageWorld {
  constructor(
    readonly session: CDPSession,
    readonly tree: FrameTree,
  ) {}

  /** Ids of at most so many frames, the page itself first. */
  frames(most = 12): readonly string[] {
    return this.tree.all(most);
  }

  get main(): string {
    return this.tree.main;
  }

  /** Throws where the function throws, the frame is gone, or what comes back is not of that shape. */
  async run<A, T>(
    frame: string,
    work: (arg: A) => T | Promise<T>,
    arg: A,
    shape: z.ZodType<Awaited<T>>,
  ): Promise<Awaited<T>> {
    const { executionContextId } = await this.session.send('Page.createIsolatedWorld', {
      frameId: frame,
      worldName: NAME,
    });
    const { result, exceptionDetails } = await this.session.send('Runtime.callFunctionOn', {
      functionDeclaration: work.toString(),
      executionContextId,
      arguments: [{ value: arg }],
      returnByValue: true,
      awaitPromise: true,
      userGesture: true,
    });
    if (exceptionDetails) throw new Error(`In the page: ${exceptionDetails.text}`);
    return shape.parse(result.value);
  }

  /** Makes the closed shadow trees of a frame known to its world, as `yareClosed`; `false` where there are none. */
  async openClosed(frame: string): Promise<boolean> {
    await this.session.send('DOM.enable');
    try {
      const { nodes } = await this.session.send('DOM.getFlattenedDocument', { depth: -1, pierce: true });
      const closed = nodes
        .flatMap((n) => n.shadowRoots ?? [])
        .filter((r) => r.shadowRootType === 'closed')
        .slice(0, MOST_CLOSED);
      if (closed.length === 0) return false;
      const { executionContextId } = await this.session.send('Page.createIsolatedWorld', {
        frameId: frame,
        worldName: NAME,
      });
      let kept = false;
      for (const { backendNodeId } of closed) {
        const resolved = await this.session
          .send('DOM.resolveNode', { backendNodeId, executionContextId })
          .catch(() => undefined);
        const objectId = resolved?.object.objectId;
        if (objectId === undefined) continue;
        const { result } = await this.session.send('Runtime.callFunctionOn', {
          functionDeclaration: keepClosed.toString(),
          executionContextId,
          arguments: [{ objectId }],
          returnByValue: true,
        });
        kept = result.value === true || kept;
      }
      return kept;
    } finally {
      await this.session.send('DOM.disable').catch(() => {});
    }
  }

  /**
   * Clicks on something that a function of ours keeps in its world, as a hand would: once it stands still, where it can be
   * seen; by its own click where it cannot be reached. `false` where it is gone.
   */
  async press(frame: string, kept: string, index: number): Promise<boolean> {
    const about = { kept, index };
    const there = await this.run(frame, standsStill, about, z.boolean());
    if (!there) return false;
    const point = await this.#pointOn(frame, about);
    if (point && (await this.run(frame, isHitBy, about, z.boolean()).catch(() => false))) {
      await clickAt(this.session, point.x, point.y);
      return true;
    }
    return this.run(frame, clickIt, about, z.boolean());
  }

  /** The middle of it, within the window. */
  async #pointOn(frame: string, about: Kept): Promise<{ x: number; y: number } | undefined> {
    const { executionContextId } = await this.session.send('Page.createIsolatedWorld', {
      frameId: frame,
      worldName: NAME,
    });
    const { result } = await this.session.send('Runtime.callFunctionOn', {
      functionDeclaration: keptElement.toString(),
      executionContextId,
      arguments: [{ value: about }],
    });
    const { objectId } = result;
    if (objectId === undefined) return undefined;
    try {
      await this.session.send('DOM.scrollIntoViewIfNeeded', { objectId }).catch(() => {});
      const { quads } = await this.session.send('DOM.getContentQuads', { objectId });
      const [x1 = 0, y1 = 0, , , x2 = 0, y2 = 0] = quads[0] ?? [];
      return quads[0] && { x: (x1 + x2) / 2, y: (y1 + y2) / 2 };
    } catch {
      return undefined;
    } finally {
      await this.session.send('Runtime.releaseObject', { objectId }).catch(() => {});
    }
  }
}

/** A move of the mouse and a click, as a visitor's hand does them. */
export async function clickAt(session: CDPSession, x: number, y: number): Promise<void> {
  const at = { x, y, button: 'left', clickCount: 1 } as const;
  await Promise.all([
    session.send('Input.dispatchMouseEvent', { type: 'mouseMoved', x, y }),
    session.send('Input.dispatchMouseEvent', { type: 'mousePressed', ...at }),
    session.send('Input.dispatchMouseEvent', { type: 'mouseReleased', ...at }),
  ]);
}

interface Kept {
  readonly kept: string;
  readonly index: number;
}

/* What follows runs in the page; elements are kept in lists on the global object of the world. */

/** `true` where the tree is this very document's. */
function keepClosed(root: unknown): boolean {
  if (!(root instanceof ShadowRoot) || root.ownerDocument !== document) return false;
  const world = globalThis as unknown as { yareClosed?: ShadowRoot[] };
  world.yareClosed ??= [];
  if (!world.yareClosed.includes(root)) world.yareClosed.push(root);
  return true;
}

function keptElement({ kept, index }: Kept): Element | undefined {
  return (globalThis as unknown as Record<string, Element[] | undefined>)[kept]?.[index];
}

/** Whether it is there, once it does not move any more or after a second. */
async function standsStill({ kept, index }: Kept): Promise<boolean> {
  const element = (globalThis as unknown as Record<string, Element[] | undefined>)[kept]?.[index];
  if (!element?.isConnected) return false;
  let before = '';
  for (let look = 0; look < 20; look++) {
    const { x, y, width, height } = element.getBoundingClientRect();
    const now = `${x} ${y} ${width} ${height}`;
    if (now === before) break;
    before = now;
    await new Promise((done) => setTimeout(done, 50));
  }
  return element.isConnected;
}

/** Whether a click on its middle would reach it. */
function isHitBy({ kept, index }: Kept): boolean {
  const element = (globalThis as unknown as Record<string, Element[] | undefined>)[kept]?.[index];
  if (!element) return false;
  const { x, y, width, height } = element.getBoundingClientRect();
  const root = element.getRootNode();
  // From within its own tree, since a closed one cannot be looked into from outside.
  let hit =
    root instanceof ShadowRoot
      ? root.elementFromPoint(x + width / 2, y + height / 2)
      : (Document.prototype.elementFromPoint.call(document, x + width / 2, y + height / 2) as Element | null);
  while (hit?.shadowRoot) {
    const inner = hit.shadowRoot.elementFromPoint(x + width / 2, y + height / 2);
    if (!inner || inner === hit) break;
    hit = inner;
  }
  for (let e: Node | null = hit; e; e = e.parentNode ?? (e as ShadowRoot).host ?? null)
    if (e === element) return true;
  return false;
}

function clickIt({ kept, index }: Kept): boolean {
  const element = (globalThis as unknown as Record<string, Element[] | undefined>)[kept]?.[index];
  if (!(element instanceof HTMLElement) || !element.isConnected) return false;
  HTMLElement.prototype.click.call(element);
  return true;
}
