import type { PurposeCode } from '../../src/core/websites/notice/purpose-code.ts';
import type { TrackerKey } from '../../src/core/websites/trackers/tracker.ts';
import type { Visitor } from '../../src/core/websites/trackers/visitor.ts';

/** What the Strait Post does, as it was built: to be found, each with what it is for and who meets it. */
export type Truth = TrackerKey & {
  readonly purpose: PurposeCode;
  /** Visitors who meet it, where the one with a choice of its own allows measurement. */
  readonly states: readonly Visitor[];
};

const ALL: readonly Visitor[] = ['before', 'refused', 'accepted', 'chosen', 'gpc'];
const MEASURED: readonly Visitor[] = ['accepted', 'chosen'];
const ANSWERED: readonly Visitor[] = ['refused', 'accepted', 'chosen'];

export const POST_TRUTH: readonly Truth[] = [
  { kind: 'cookie', name: 'ps', host: 'post.localhost', purpose: 'essential', states: ALL },
  { kind: 'local storage', name: 'p2', host: 'post.localhost', purpose: 'essential', states: ANSWERED },
  // Let run by “Newsroom”.
  { kind: 'request', name: '/k.js', host: 'kestrel.localhost', purpose: 'measurement', states: MEASURED },
  { kind: 'cookie', name: 'kx', host: 'post.localhost', purpose: 'measurement', states: MEASURED },
  { kind: 'cookie', name: 'vz_*', host: 'post.localhost', purpose: 'measurement', states: MEASURED },
  { kind: 'local storage', name: 'kx_q', host: 'post.localhost', purpose: 'measurement', states: MEASURED },
  { kind: 'request', name: '/e', host: 'kestrel.localhost', purpose: 'measurement', states: MEASURED },
  { kind: 'request', name: '/p', host: 'pulse.post.localhost', purpose: 'measurement', states: MEASURED },
  { kind: 'request', name: '/in', host: 'pulse.post.localhost', purpose: 'measurement', states: MEASURED },
  // Let run by “Sponsors”.
  { kind: 'request', name: '/o.js', host: 'ombra.localhost', purpose: 'advertising', states: ['accepted'] },
  { kind: 'request', name: '/x.gif', host: 'ombra.localhost', purpose: 'advertising', states: ['accepted'] },
  { kind: 'cookie', name: 'om', host: 'ombra.localhost', purpose: 'advertising', states: ['accepted'] },
  { kind: 'local storage', name: 'o1', host: 'post.localhost', purpose: 'advertising', states: ['accepted'] },
  {
    kind: 'link decoration',
    name: 'oc',
    host: 'market.localhost',
    purpose: 'advertising',
    states: ['accepted'],
  },
  // Let run by “Corner”, whose words say nothing.
  { kind: 'request', name: '/f.js', host: 'fennel.localhost', purpose: 'preferences', states: ['accepted'] },
  { kind: 'request', name: '/list', host: 'fennel.localhost', purpose: 'preferences', states: ['accepted'] },
  { kind: 'local storage', name: 'fx', host: 'post.localhost', purpose: 'preferences', states: ['accepted'] },
  // Waits for nobody.
  { kind: 'request', name: '/b.js', host: 'kestrel.localhost', purpose: 'measurement', states: ALL },
  { kind: 'cookie', name: 'kb', host: 'post.localhost', purpose: 'measurement', states: ALL },
  { kind: 'request', name: '/w.js', host: 'ombra.localhost', purpose: 'advertising', states: ALL },
  // Comes with an answer, whichever it is; and with a refusal alone.
  { kind: 'request', name: '/q.js', host: 'quill.localhost', purpose: 'advertising', states: ANSWERED },
  { kind: 'cookie', name: 'qv', host: 'post.localhost', purpose: 'advertising', states: ANSWERED },
  { kind: 'request', name: '/z', host: 'ombra.localhost', purpose: 'advertising', states: ['refused'] },
];

/**
 * What may be told of the Strait Post besides: how many ways of recognising a device are told apart is the sweep's own affair, and
 * whoever closes the letter to subscribe to is remembered.
 */
export function isBeside({ kind, name, host }: TrackerKey): boolean {
  return (
    (kind === 'fingerprint' && host === 'ombra.localhost') || (kind === 'local storage' && name === 'nl')
  );
}
