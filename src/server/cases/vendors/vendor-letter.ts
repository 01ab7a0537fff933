import type { LetterTemplate } from '../../../core/outbox/letter.ts';

/** To a vendor, with a link of its own. */
export const VENDOR_ASKED: LetterTemplate = {
  id: 'vendor asked',
  texts: {
    en: {
      subject: '{organisation}: {count} questions about how you protect our data',
      body: [
        '{vendor} works for {organisation}. The law has us look at how you protect what we give you.',
        'Answer until {day}. You need no account; you can answer in part, come back, and add files.',
        '{link}',
      ],
    },
    da: {
      subject: '{organisation}: {count} spørgsmål om, hvordan I beskytter vores data',
      body: [
        '{vendor} arbejder for {organisation}. Loven kræver, at vi ser på, hvordan I beskytter det, vi giver jer.',
        'Svar senest {day}. I behøver ingen konto; I kan svare lidt ad gangen og vedlægge filer.',
        '{link}',
      ],
    },
  },
};
