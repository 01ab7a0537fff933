import type { Answer, Lane, VisitEvent } from './visit.ts';

/** An event and a course for tests. */
export function visitEvent(over: Partial<VisitEvent> & { key: string }): VisitEvent {
  return {
    ...{ at: 0, phase: 0, what: 'ran', words: over.key, cell: '', purpose: null, host: '', name: '' },
    ...{ cause: [], why: '', times: 1 },
    ...over,
  };
}

export function lane(answer: Answer, events: readonly VisitEvent[]): Lane {
  return { answer, whyNot: '', events: [...events], receipt: '' };
}
