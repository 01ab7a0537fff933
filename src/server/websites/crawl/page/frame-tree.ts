import { hear, type Channel } from '../browser/channel.ts';

interface Frame {
  readonly parent: string | undefined;
  readonly url: string;
}

interface Context {
  readonly frame: string;
  readonly origin: string;
  /** The world of the page's own scripts. */
  readonly own: boolean;
}

/** Where something happened, by the browser's word. */
export interface Place {
  /** Address of the page; of a frame without one, that of the page that holds it. */
  readonly document: string;
  readonly origin: string;
}

interface Told {
  readonly frame: { readonly id: string; readonly parentId?: string | undefined; readonly url: string };
  readonly childFrames?: readonly Told[] | undefined;
}

/** More frames, and worlds in them, than any honest page has. */
const MOST = 2000;

/** The frames of a page and the worlds of scripts in them, as the browser tells of them. */
export class FrameTree {
  readonly #frames = new Map<string, Frame>();
  readonly #contexts = new Map<number, Context>();
  main = '';

  begin(tree: Told): void {
    this.main = tree.frame.id;
    const take = ({ frame, childFrames = [] }: Told) => {
      this.#set(frame.id, frame.parentId, frame.url);
      childFrames.forEach(take);
    };
    take(tree);
  }

  listen(channel: Channel): void {
    hear<{ frameId: string; parentFrameId: string }>(channel, 'Page.frameAttached', (e) =>
      this.#set(e.frameId, e.parentFrameId, ''),
    );
    hear<{ frameId: string }>(channel, 'Page.frameDetached', (e) => this.#frames.delete(e.frameId));
    hear<Told>(channel, 'Page.frameNavigated', ({ frame }) => this.#set(frame.id, frame.parentId, frame.url));
    hear<{ frameId: string; url: string }>(channel, 'Page.navigatedWithinDocument', (e) =>
      this.#set(e.frameId, this.#frames.get(e.frameId)?.parent, e.url),
    );
    hear<{
      context: {
        id: number;
        origin: string;
        auxData?: { frameId?: string; isDefault?: boolean };
      };
    }>(channel, 'Runtime.executionContextCreated', ({ context: { id, origin, auxData } }) => {
      if (this.#contexts.size < MOST)
        this.#contexts.set(id, {
          frame: auxData?.frameId ?? '',
          origin,
          own: auxData?.isDefault === true,
        });
    });
    hear<{ executionContextId: number }>(channel, 'Runtime.executionContextDestroyed', (e) =>
      this.#contexts.delete(e.executionContextId),
    );
    hear(channel, 'Runtime.executionContextsCleared', () => this.#contexts.clear());
  }

  /** Ids of at most so many frames, the page itself first. */
  all(most: number): readonly string[] {
    return [...this.#frames.keys()].slice(0, most);
  }

  /** The world of a frame's own scripts; `undefined` while it has none. */
  ownContext(frame: string): number | undefined {
    let newest: number | undefined;
    for (const [id, c] of this.#contexts) if (c.own && c.frame === frame) newest = id;
    return newest;
  }

  placeOf(context: number): Place {
    const { frame = this.main, origin = '' } = this.#contexts.get(context) ?? {};
    return { document: this.#document(frame), origin };
  }

  #document(id: string): string {
    for (let frame = this.#frames.get(id), n = 0; frame && n < 50; n++) {
      if (/^(?:https?|blob|data):/.test(frame.url)) return frame.url;
      frame = frame.parent === undefined ? undefined : this.#frames.get(frame.parent);
    }
    return '';
  }

  #set(id: string, parent: string | undefined, url: string): void {
    if (this.#frames.size < MOST || this.#frames.has(id)) this.#frames.set(id, { parent, url });
  }
}
