export const RUN_STATES = [
  'estimating',
  'estimated',
  'running',
  'pausing',
  'paused',
  'stopping',
  'done',
  'failed',
  'cancelled',
] as const;
export type RunState = (typeof RUN_STATES)[number];

export const RUN_ACTS = ['start', 'pause', 'go on', 'cancel'] as const;
export type RunAct = (typeof RUN_ACTS)[number];

/** What can be done with a run now, in the order a person would think of it. */
export function openRunActs(state: RunState): readonly RunAct[] {
  switch (state) {
    case 'estimating':
      return ['cancel'];
    case 'estimated':
      return ['start', 'cancel'];
    case 'running':
      return ['pause', 'cancel'];
    case 'pausing':
      return ['cancel'];
    case 'paused':
      return ['go on', 'cancel'];
    case 'stopping':
    case 'done':
    case 'failed':
    case 'cancelled':
      return [];
  }
}

/** Where an act leads, with `working` whether somebody works at a part of it just now; `undefined` where it is not open. */
export function afterRunAct(state: RunState, act: RunAct, working: boolean): RunState | undefined {
  if (!openRunActs(state).includes(act)) return undefined;
  switch (act) {
    case 'start':
    case 'go on':
      return 'running';
    case 'pause':
      return working ? 'pausing' : 'paused';
    case 'cancel':
      return working ? 'stopping' : 'cancelled';
  }
}

export type EndState = 'done' | 'failed' | 'cancelled';

/** What has become of a part. */
export type PartState = 'waiting' | 'queued' | 'done' | 'failed' | 'cancelled';

/** Where a run stands once no part of it is worked at; `undefined` where there is more to do. */
export function settledState(state: RunState, parts: readonly PartState[]): 'paused' | EndState | undefined {
  if (state === 'stopping') return 'cancelled';
  if (parts.some((p) => p === 'waiting')) return state === 'pausing' ? 'paused' : undefined;
  // What could not be read does not undo what was.
  return parts.length > 0 && parts.every((p) => p === 'failed') ? 'failed' : 'done';
}
