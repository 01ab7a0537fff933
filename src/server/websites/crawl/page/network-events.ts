import type { Channel } from '../browser/channel.ts';
import type { Initiator } from './cause-chains.ts';

/** What the browser tells of a request, its answer, and the headers and cookies of that (Chrome DevTools Protocol, Network). */
export interface RequestEvent {
  readonly requestId: string;
  readonly loaderId?: string;
  readonly documentURL: string;
  readonly request: { url: string; postData?: string; headers: Record<string, string> };
  readonly initiator: Initiator;
  readonly redirectResponse?: unknown;
  readonly type?: string;
  readonly frameId?: string;
}

export interface ResponseEvent {
  readonly requestId: string;
  readonly type?: string;
  readonly response: { readonly url: string; readonly mimeType: string; readonly status: number };
}

export interface ExtraInfo {
  readonly requestId: string;
  readonly headers: Readonly<Record<string, string>>;
  readonly blockedCookies?: readonly { blockedReasons: string[]; cookieLine: string }[];
}

export const MOST_BODY = 64 * 1024;

/** Has the browser tell of the network, and of the scripts that ask. */
export async function enableNetwork(channel: Channel): Promise<void> {
  await Promise.all([
    channel.send('Network.enable', {
      maxTotalBufferSize: 0,
      maxResourceBufferSize: 0,
      maxPostDataSize: MOST_BODY,
    }),
    // Without it the browser does not say which script asked.
    channel.send('Debugger.enable', { maxScriptsCacheSize: 0 }),
    channel.send('Debugger.setAsyncCallStackDepth', { maxDepth: 4 }),
    channel.send('Debugger.setSkipAllPauses', { skip: true }),
  ]);
}
