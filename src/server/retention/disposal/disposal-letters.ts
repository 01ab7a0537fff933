import type { LetterTemplate } from '../../../core/outbox/letter.ts';

/** To somebody whose documents are to go if they agree. */
export const TO_AGREE: LetterTemplate = {
  id: 'disposals to agree to',
  texts: {
    en: {
      subject: 'May these documents go?',
      body: [
        'Dear {name},',
        'the time is over for {count} of the documents and messages that you own. Nothing goes before you agree.',
        'Look at them, and say which may go and which have to stay, and why; it takes a minute, and no account.',
        '{link}',
      ],
    },
    da: {
      subject: 'Må disse dokumenter slettes?',
      body: [
        'Kære {name}',
        'Tiden er udløbet for {count} af de dokumenter og beskeder, du ejer. Intet slettes, før du siger ja.',
        'Se dem igennem, og sig, hvad der må slettes, og hvad der skal blive og hvorfor; det tager et minut og kræver ingen konto.',
        '{link}',
      ],
    },
  },
};

/** To somebody whose documents are past their time, where that is all that follows. */
export const PAST_TIME: LetterTemplate = {
  id: 'past their time',
  texts: {
    en: {
      subject: 'Documents past their time',
      body: [
        'Dear {name},',
        'by “{rule}” the time is over for {count} of the documents and messages that you own. Nothing is done by itself: see which you can let go.',
      ],
    },
    da: {
      subject: 'Dokumenter, hvis tid er udløbet',
      body: [
        'Kære {name}',
        'Efter “{rule}” er tiden udløbet for {count} af de dokumenter og beskeder, du ejer. Intet sker af sig selv: se, hvad du kan slette.',
      ],
    },
  },
};
