import type { LetterTemplate } from '../../../core/outbox/letter.ts';

/** To somebody who is asked what may stay of what is given at their places. */
export const TO_REVIEW: LetterTemplate = {
  id: 'access to review',
  texts: {
    en: {
      subject: 'Who may keep access to your places?',
      body: [
        'Dear {name},',
        'in “{review}” you are asked about {count} things that people were given where you answer for it. Please say until {due} what may stay.',
        'Beside each stands who uses it and since when; it takes a few minutes, and no account.',
        '{link}',
      ],
    },
    da: {
      subject: 'Hvem må beholde adgang til dine steder?',
      body: [
        'Kære {name}',
        'I “{review}” bliver du spurgt om {count} ting, som nogen har fået adgang til, hvor du har ansvaret. Sig senest {due}, hvad der må blive.',
        'Ved hver står, hvem der bruger den og siden hvornår; det tager få minutter og kræver ingen konto.',
        '{link}',
      ],
    },
  },
};
