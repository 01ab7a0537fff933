import type { LetterTemplate } from '../../core/outbox/letter.ts';

/** To somebody who is asked to agree to a version of a rule. */
export const ASKED_TO_AGREE: LetterTemplate = {
  id: 'asked to agree',
  texts: {
    en: {
      subject: '{by} asks you to agree to {what}',
      body: [
        'Dear {name},',
        '{by} wants to put {what} in force, and asks you to agree:',
        '{reason}',
        'Look at it, then say yes or no:',
        '{link}',
      ],
    },
    da: {
      subject: '{by} beder om din godkendelse: {what}',
      body: [
        'Kære {name}',
        '{by} vil sætte {what} i kraft og beder om din godkendelse:',
        '{reason}',
        'Se på det, og sig så ja eller nej:',
        '{link}',
      ],
    },
  },
};

/** To whoever asked, once somebody did not agree. */
export const REFUSED_TO_AGREE: LetterTemplate = {
  id: 'refused to agree',
  texts: {
    en: {
      subject: '{by} does not agree to {what}',
      body: ['Dear {name},', '{by} does not agree to {what}. It is not put in force.', '{reason}', '{link}'],
    },
    da: {
      subject: '{by} godkender ikke: {what}',
      body: ['Kære {name}', '{by} godkender ikke {what}. Det sættes ikke i kraft.', '{reason}', '{link}'],
    },
  },
};
