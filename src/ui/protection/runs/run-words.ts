import type { RunAct, RunState } from '../../../core/runs/run.ts';
import { runStateWords } from '../../runs/run-words.ts';

const RUNNING = {
  rehearse: 'trying each document now',
  set: 'setting levels now',
  undo: 'putting it back now',
} as const;

export function levelRunStateWords(state: RunState, mode: keyof typeof RUNNING): string {
  return runStateWords(state, RUNNING[mode]);
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
