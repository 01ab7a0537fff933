import { firstLookout, type LookoutContent } from './lookout-content.ts';
import type { RaiseWhen } from './lookout.ts';

const perDay = (count: number, by: 'person' | 'everybody' = 'person'): RaiseWhen => ({
  ...{ is: 'more than', count, minutes: 1440, by },
});

/** Lookouts that ship, by ids that no number is. They can be changed and switched off, not removed. */
export const BUILT_IN: Readonly<Record<string, LookoutContent>> = {
  'stopped-again': {
    ...firstLookout('Stopped again and again', { outcomes: ['stop'], when: perDay(4) }),
    ...{ category: 'people stopped', because: 'Either somebody tries, or a rule is wrong.' },
  },
  'more-to-drives': {
    ...firstLookout('More to drives than is usual', {
      channels: ['removable drive'],
      when: { is: 'unusual', days: 30, by: 'person' },
    }),
    because: 'Before people leave, they copy.',
  },
  'false-alarms': {
    ...firstLookout('Many false alarms', { answers: ['false alarm'], when: perDay(20, 'everybody') }),
    ...{ severity: 'low', category: 'people stopped', because: 'A rule that is often wrong is not heeded.' },
  },
  'failed-sign-ins': {
    ...firstLookout('Sign-ins that fail', {
      acts: ['fail to sign in'],
      when: { is: 'more than', count: 9, minutes: 15, by: 'person' },
    }),
    ...{ severity: 'high', category: 'sign-ins', because: 'Somebody guesses a password.' },
  },
  'rules-switched-off': {
    ...firstLookout('Protection switched off', {
      changes: [
        'handling rule.pause',
        'handling rule.retire',
        'hold.retire',
        'notice.pause',
        'notice.retire',
      ],
      when: { is: 'every time' },
    }),
    ...{
      severity: 'medium',
      category: 'rules and proof',
      because: 'What protects people should not end unseen.',
    },
  },
  'lookouts-switched-off': {
    ...firstLookout('Lookouts switched off', {
      changes: ['lookout.pause', 'lookout.retire', 'view rule.put-in-force', 'activity.keep'],
      when: { is: 'every time' },
    }),
    ...{
      severity: 'high',
      category: 'rules and proof',
      because: 'Who hides something switches off what watches.',
    },
  },
};

/** Whether it shipped, by its id. */
export function isBuiltIn(id: string | number): boolean {
  return Object.hasOwn(BUILT_IN, String(id));
}
