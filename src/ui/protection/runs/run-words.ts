import type { RunAct, RunState } from '../../../core/runs/run.ts';

export function levelRunStateWords(state: RunState, mode: 'rehearse' | 'set' | 'undo'): string {
  switch (state) {
    case 'estimating':
      return 'being estimated';
    case 'estimated':
      return 'estimated, not started';
    case 'running':
      return { rehearse: 'trying each document now', set: 'setting levels now', undo: 'putting it back now' }[
        mode
      ];
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

export function runActWords(act: RunAct, mode: 'rehearse' | 'set' | 'undo'): string {
  switch (act) {
    case 'start':
      return { rehearse: 'Try it, changing nothing', set: 'Set them now', undo: 'Put it all back' }[mode];
    case 'pause':
      return 'Pause';
    case 'go on':
      return 'Go on';
    case 'cancel':
      return 'Cancel';
  }
}

/** What became of an item, in a word. */
export const OUTCOME_WORDS: Readonly<Record<string, string>> = {
  stamped: 'stamped',
  noted: 'noted, carrying no marking',
  refused: 'could not be stamped',
  left: 'left as it is',
  undone: 'as it was',
};
