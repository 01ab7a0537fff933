import type { ChangeState, StepState } from '../../../server/access/change/access-changes.ts';

export const CHANGE_WORDS: Readonly<Record<ChangeState, string>> = {
  draft: 'rehearsed',
  running: 'being done',
  done: '✓ done',
  partly: '◆ partly done',
  dropped: 'dropped',
};

export const STEP_WORDS: Readonly<Record<StepState, string>> = {
  waiting: '○ waits',
  begun: '○ being done',
  done: '✓ done',
  already: '✓ was so already',
  failed: '◆ failed',
  ordered: '◆ to be done by hand',
};
