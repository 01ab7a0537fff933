import type { LetterTemplate } from '../../../core/outbox/letter.ts';

/** To who owns a measure whose test fails since now. */
export const MEASURE_FAILED: LetterTemplate = {
  id: 'measure failed',
  texts: {
    en: {
      subject: '{measure}: its test fails',
      body: [
        'Dear {name},',
        'the program tests “{measure}”, which you own, and it fails: it counts {counted}. Until it passes it gives nothing to readiness, and it is to be done again.',
        '{link}',
      ],
    },
    da: {
      subject: '{measure}: testen fejler',
      body: [
        'Kære {name}',
        'Programmet tester “{measure}”, som du ejer, og testen fejler: det tæller {counted}. Indtil den består, giver den intet til parathed, og den skal gøres om.',
        '{link}',
      ],
    },
  },
};

/** To who owns a measure whose day comes near. */
export const MEASURE_DUE: LetterTemplate = {
  id: 'measure due',
  texts: {
    en: {
      subject: '{measure} is due on {due}',
      body: ['Dear {name},', '“{measure}”, which you own in {cycle}, is to be done by {due}.', '{link}'],
    },
    da: {
      subject: '{measure} skal være gjort {due}',
      body: ['Kære {name}', '“{measure}”, som du ejer i {cycle}, skal være gjort senest {due}.', '{link}'],
    },
  },
};
