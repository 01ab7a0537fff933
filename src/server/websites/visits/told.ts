import type { CDPSession } from 'playwright-core';
import { z } from 'zod';

const PurposeState = z.enum(['allowed', 'refused', 'waits', 'starts on']);
const State = z.object({
  answered: z.boolean(),
  region: z.string().max(8),
  regime: z.string().max(40),
  purposes: z.record(z.string().max(40), PurposeState),
});

/** What the notice's script tells the page of itself. Any script of the page could say it. */
const Told = z.discriminatedUnion('what', [
  z.object({ what: z.literal('start'), state: State }),
  z.object({ what: z.literal('state'), state: State }),
  z.object({ what: z.literal('held'), name: z.string().max(4000), purpose: z.string().max(40) }),
  z.object({ what: z.literal('reduced'), name: z.string().max(4000), purpose: z.string().max(40) }),
  z.object({ what: z.literal('shown') }),
  z.object({ what: z.literal('answer') }),
  z.object({ what: z.literal('told'), system: z.string().max(80), entry: z.json() }),
  z.object({ what: z.literal('recorded'), receipt: z.string().max(60) }),
  z.object({
    what: z.literal('deleted'),
    left: z.array(z.object({ name: z.string().max(400), host: z.string().max(300) })).max(500),
  }),
]);
export type Told = z.infer<typeof Told>;

const WORLD = 'yare-visit';
const BINDING = 'yareTold';
const MOST_TOLD = 2000;

/** Hears what the notice's script tells, from a world of the page that its scripts do not reach. */
export async function hearTold(session: CDPSession, heard: (told: Told) => void): Promise<void> {
  let count = 0;
  session.on('Runtime.bindingCalled', ({ name, payload }) => {
    if (name !== BINDING || count++ >= MOST_TOLD) return;
    const told = Told.safeParse(parsed(payload));
    if (told.success) heard(told.data);
  });
  await session.send('Runtime.addBinding', { name: BINDING, executionContextName: WORLD });
  await session.send('Page.addScriptToEvaluateOnNewDocument', {
    worldName: WORLD,
    source: `if (self === top) document.addEventListener('yare', (e) => { try { ${BINDING}(JSON.stringify(e.detail).slice(0, 20000)); } catch {} });`,
  });
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return undefined;
  }
}
