import type { RunState } from '../../core/runs/run.ts';

/** How far a run is, in words; `running` says what it does. */
export function runStateWords(state: RunState, running: string): string {
  switch (state) {
    case 'estimating':
      return 'being estimated';
    case 'estimated':
      return 'estimated, not started';
    case 'running':
      return running;
    case 'pausing':
      return 'about to pause';
    case 'paused':
      return 'paused';
    case 'stopping':
      return 'about to stop';
    case 'done':
      return 'done';
    case 'failed':
      return '◆ failed';
    case 'cancelled':
      return 'cancelled';
  }
}
