import type { LetterTemplate } from '../../../core/outbox/letter.ts';

/** To somebody who may be written to, with their own page. */
export const YOUR_PREFERENCES: LetterTemplate = {
  id: 'preferences',
  texts: {
    en: {
      subject: '{sender}: what may we send you?',
      body: [
        'Dear {name},',
        'here you say how we may reach you, and about what, or that you want nothing more from us. It takes a minute, and no account.',
        '{link}',
      ],
    },
    da: {
      subject: '{sender}: hvad må vi sende dig?',
      body: [
        'Kære {name}',
        'Her siger du, hvordan vi må kontakte dig, og om hvad, eller at du ikke vil have mere fra os. Det tager et minut og kræver ingen konto.',
        '{link}',
      ],
    },
  },
};
