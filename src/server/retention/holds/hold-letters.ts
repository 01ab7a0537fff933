import type { LetterTemplate } from '../../../core/outbox/letter.ts';

/** To a custodian, once a hold is in force. */
export const HELD: LetterTemplate = {
  id: 'hold placed',
  texts: {
    en: {
      subject: 'Please keep: {hold}',
      body: [
        'Please keep everything that has to do with: {matter}',
        'Do not delete, change or move any of it, wherever it lies, until you are told that the matter is over. It beats every other rule on how long something is kept.',
        'Say here that you know of it; it takes a moment, and no account.',
        '{link}',
      ],
    },
    da: {
      subject: 'Skal bevares: {hold}',
      body: [
        'Bevar alt, hvad der har med dette at gøre: {matter}',
        'Slet, ret eller flyt ikke noget af det, uanset hvor det ligger, før du får besked om, at sagen er slut. Det går forud for alle andre regler om, hvor længe noget gemmes.',
        'Bekræft her, at du ved det; det tager et øjeblik og kræver ingen konto.',
        '{link}',
      ],
    },
  },
};

/** To one who did not say yet that they know. */
export const HELD_AGAIN: LetterTemplate = {
  id: 'hold not known',
  texts: {
    en: {
      subject: 'Once more: please keep {hold}',
      body: [
        'You were told {times} to keep everything that has to do with: {matter}',
        'You did not say yet that you know of it. Please do so here.',
        '{link}',
      ],
    },
    da: {
      subject: 'Endnu en gang: bevar {hold}',
      body: [
        'Du har {times} fået besked om at bevare alt, hvad der har med dette at gøre: {matter}',
        'Du har endnu ikke bekræftet, at du ved det. Gør det her.',
        '{link}',
      ],
    },
  },
};

/** To every custodian, once it is over. */
export const RELEASED: LetterTemplate = {
  id: 'hold released',
  texts: {
    en: {
      subject: 'No longer held: {hold}',
      body: [
        'The matter is over: {matter}',
        'What had to be kept for it alone is treated by the usual rules again.',
      ],
    },
    da: {
      subject: 'Ikke længere bevaret: {hold}',
      body: [
        'Sagen er slut: {matter}',
        'Det, der kun skulle bevares for den, følger igen de almindelige regler.',
      ],
    },
  },
};
