import type { LetterTemplate } from '../../../../core/outbox/letter.ts';

/** To whoever handles a request whose time runs out. */
export const DUE: LetterTemplate = {
  id: 'request due',
  texts: {
    en: {
      subject: '{number}: {left}',
      body: ['Somebody asks {asks}. {number}: {left}.', '{link}'],
    },
    da: {
      subject: '{number}: {left}',
      body: ['En anmodning venter på svar. {number}: {left}.', '{link}'],
    },
  },
};

/** To the owner of a task. */
export const TASK_DUE: LetterTemplate = {
  id: 'request task due',
  texts: {
    en: {
      subject: 'Due on {day}: {what}',
      body: [
        'A person waits for this: {what}',
        'It is due on {day}. Do it, or hand it on to whoever can.',
        '{link}',
      ],
    },
    da: {
      subject: 'Senest {day}: {what}',
      body: [
        'En person venter på dette: {what}',
        'Fristen er {day}. Gør det, eller giv det videre.',
        '{link}',
      ],
    },
  },
};

/** To those above, of a task that is late. */
export const TASK_LATE: LetterTemplate = {
  id: 'request task late',
  texts: {
    en: {
      subject: 'Late: {what}',
      body: [
        'This was due on {day}, and is not done: {what}',
        'A person waits for it, and the law does not.',
        '{link}',
      ],
    },
    da: {
      subject: 'Forsinket: {what}',
      body: ['Dette skulle være gjort {day}: {what}', 'En person venter på det.', '{link}'],
    },
  },
};
