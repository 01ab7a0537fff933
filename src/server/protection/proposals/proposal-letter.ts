import type { LetterTemplate } from '../../../core/outbox/letter.ts';

/** To somebody whose documents are proposed a level. */
export const PROPOSED: LetterTemplate = {
  id: 'levels proposed',
  texts: {
    en: {
      subject: 'How may your documents be treated?',
      body: [
        'Dear {name},',
        'for {count} of the documents and messages that you own, a stronger level is proposed. Nothing is marked before you agree.',
        'Look at them and say yes or no; it takes a minute, and no account.',
        '{link}',
      ],
    },
    da: {
      subject: 'Hvordan må dine dokumenter behandles?',
      body: [
        'Kære {name}',
        'For {count} af de dokumenter og beskeder, du ejer, foreslås et højere niveau. Intet mærkes, før du siger ja.',
        'Se dem igennem og sig ja eller nej; det tager et minut og kræver ingen konto.',
        '{link}',
      ],
    },
  },
};
