import type { LetterTemplate } from '../../core/outbox/letter.ts';

/** To somebody whose password was changed: by them, or by whoever has their desk. */
export const PASSWORD_CHANGED: LetterTemplate = {
  id: 'password changed',
  texts: {
    en: {
      subject: 'Your password was changed',
      body: [
        'Dear {name},',
        'the password of your account at Yare Warden was changed on {when}, and your other sessions were ended.',
        'If this was you, there is nothing to do. If it was not, tell your privacy officer at once: they can end every session and disable the account.',
        '{link}',
      ],
    },
    da: {
      subject: 'Din adgangskode er ændret',
      body: [
        'Kære {name}',
        'Adgangskoden til din konto i Yare Warden blev ændret {when}, og dine andre sessioner blev afsluttet.',
        'Hvis det var dig, skal du ikke gøre noget. Hvis ikke, så sig det straks til din databeskyttelsesansvarlige: de kan afslutte alle sessioner og lukke kontoen.',
        '{link}',
      ],
    },
  },
};
