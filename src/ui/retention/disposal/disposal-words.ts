import type { DisposalItemState, DisposalState } from '../../../server/retention/disposal/disposals.ts';

/** How states of disposals, and of the items in them, are called. */
export const DISPOSAL_WORDS: Readonly<Record<DisposalState, string>> = {
  asked: '○ waits for an answer',
  agreed: 'agreed to',
  running: 'under way',
  done: '✓ done',
  refused: 'stays',
};

export const ITEM_WORDS: Readonly<Record<DisposalItemState, string>> = {
  waiting: '○ waits',
  kept: 'stays',
  begun: 'is going',
  aside: 'gone, can be put back',
  gone: '✓ gone',
  failed: '◆ could not go',
  back: 'put back',
};
