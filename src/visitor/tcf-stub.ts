/**
 * Stands in for the framework’s interface until its part is there, as the framework’s technical specification has it: a
 * queue, a frame by which others find it, and an ear for messages from frames.
 */
type Callback = (value: unknown, success: boolean) => void;
type Call = [command: string, version: number, callback: Callback, parameter?: unknown];
interface Asked {
  readonly __tcfapiCall?: {
    readonly command: string;
    readonly version: number;
    readonly callId: unknown;
    readonly parameter?: unknown;
  };
}
type Api = (...call: Partial<Call>) => unknown;
const page = window as typeof window & { __tcfapi?: Api };

/** The one that answers may be in a page above. */
function isThere(): boolean {
  let frame: Window = window;
  for (;;) {
    try {
      if ((frame.frames as unknown as Record<string, unknown>)['__tcfapiLocator']) return true;
    } catch {
      // Of another site.
    }
    if (frame === window.top) return false;
    frame = frame.parent;
  }
}

function addLocator(): void {
  if ((window.frames as unknown as Record<string, unknown>)['__tcfapiLocator']) return;
  if (!document.body) return void setTimeout(addLocator, 5);
  const frame = document.createElement('iframe');
  frame.style.cssText = 'display:none';
  frame.name = '__tcfapiLocator';
  document.body.append(frame);
}

function listen(event: MessageEvent<unknown>): void {
  const isText = typeof event.data === 'string';
  let sent: Asked | null;
  try {
    sent = (isText ? JSON.parse(event.data as string) : event.data) as Asked | null;
  } catch {
    return;
  }
  const call = typeof sent === 'object' ? sent?.__tcfapiCall : undefined;
  if (!call) return;
  page.__tcfapi?.(
    call.command,
    call.version,
    (returnValue, success) => {
      const answer = { __tcfapiReturn: { returnValue, success, callId: call.callId } };
      // Whoever asks is told: nothing of it is secret from what runs in the page.
      event.source?.postMessage(isText ? JSON.stringify(answer) : answer, { targetOrigin: '*' });
    },
    call.parameter,
  );
}

if (!page.__tcfapi && !isThere()) {
  const queue: Partial<Call>[] = [];
  addLocator();
  page.__tcfapi = (...call) => {
    const [command, , callback] = call;
    if (command === undefined) return queue;
    if (command === 'ping')
      callback?.({ cmpLoaded: false, cmpStatus: 'stub', apiVersion: '2.2', gdprApplies: undefined }, true);
    else queue.push(call);
    return undefined;
  };
  window.addEventListener('message', listen);
}
