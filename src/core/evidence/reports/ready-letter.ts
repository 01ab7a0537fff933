import type { LetterTemplate } from '../../outbox/letter.ts';

/** Tells that a report can be fetched. */
export const REPORT_READY: LetterTemplate = {
  id: 'report ready',
  texts: {
    en: {
      subject: '{name} is ready',
      body: [
        'The report “{name}” of {day} can be fetched until {until}.',
        '{link}',
        'It has {lines} rows. Its digest (SHA-256) is {digest}; it stands in the ledger, so that the file can be proved later.',
      ],
    },
    da: {
      subject: '{name} er klar',
      body: [
        'Rapporten “{name}” af {day} kan hentes indtil {until}.',
        '{link}',
        'Den har {lines} rækker. Dens digest (SHA-256) er {digest}; den står i protokollen, så filen kan bevises senere.',
      ],
    },
  },
};
