import type { LetterTemplate } from '../../../core/outbox/letter.ts';

/** To somebody who is told what a listing has that it had not before. */
export const LISTING_CHANGED: LetterTemplate = {
  id: 'listing changed',
  texts: {
    en: {
      subject: '{listing}: {news}',
      body: [
        'Dear {name},',
        '{listing} was read again and names {stores}. Since the time before: {news}.',
        'Of those it names, {known} are in the register.',
        '{link}',
      ],
    },
    da: {
      subject: '{listing}: {news}',
      body: [
        'Kære {name}',
        '{listing} er læst igen og nævner {stores}. Siden sidst: {news}.',
        'Af dem er {known} i registret.',
        '{link}',
      ],
    },
  },
};
