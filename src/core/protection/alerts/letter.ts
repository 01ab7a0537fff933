import type { LetterTemplate } from '../../outbox/letter.ts';

/** To whoever a lookout tells; whose acts they are stands at the desk alone. */
export const RAISED: LetterTemplate = {
  id: 'alert raised',
  texts: {
    en: {
      subject: '{severity}: {lookout}',
      body: [
        'The lookout “{lookout}” raised alert {number}, of {severity} severity, about {category}.',
        '{because}',
        'Whose acts they are, and what they were, stands at the desk.',
        '{link}',
      ],
    },
    da: {
      subject: '{severity}: {lookout}',
      body: [
        'Udkigsposten “{lookout}” har rejst alarm {number} af alvor {severity}, om {category}.',
        '{because}',
        'Hvem der gjorde det, og hvad det var, står i systemet.',
        '{link}',
      ],
    },
  },
};
