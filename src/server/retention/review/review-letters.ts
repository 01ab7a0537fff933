import type { LetterTemplate } from '../../../core/outbox/letter.ts';

/** To those who look after the schedule, before and after reviews are due. */
export const TO_REVIEW: LetterTemplate = {
  id: 'rules to review',
  texts: {
    en: {
      subject: 'To be looked at again: {count}',
      body: [
        'Hello {name},',
        'Once a year somebody says of each rule and each bound of law in the schedule whether it stands. These wait for that: {rules}.',
        '{when}',
        '{link}',
      ],
    },
    da: {
      subject: 'Skal ses efter igen: {count}',
      body: [
        'Hej {name}',
        'Én gang om året siger nogen om hver regel og hver lovgrænse i planen, om den står ved magt. Disse venter på det: {rules}.',
        '{when}',
        '{link}',
      ],
    },
  },
};
