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

/** To somebody who can sign in with one thing more. */
export const FACTOR_ADDED: LetterTemplate = {
  id: 'second factor added',
  texts: {
    en: {
      subject: 'A second factor was added to your account',
      body: [
        'Dear {name},',
        'a passkey or one-time codes were added on {when} to how you sign in to Yare Warden.',
        'If this was you, there is nothing to do. If it was not, tell your privacy officer at once: they can take it away, end every session and disable the account.',
        '{link}',
      ],
    },
    da: {
      subject: 'En ekstra faktor er føjet til din konto',
      body: [
        'Kære {name}',
        'En adgangsnøgle eller engangskoder blev {when} føjet til den måde, du logger ind i Yare Warden på.',
        'Hvis det var dig, skal du ikke gøre noget. Hvis ikke, så sig det straks til din databeskyttelsesansvarlige: de kan fjerne den, afslutte alle sessioner og lukke kontoen.',
        '{link}',
      ],
    },
  },
};

/** To somebody who can sign in with one thing less. */
export const FACTOR_REMOVED: LetterTemplate = {
  id: 'second factor removed',
  texts: {
    en: {
      subject: 'A second factor was taken from your account',
      body: [
        'Dear {name},',
        'a passkey or one-time codes were taken on {when} from how you sign in to Yare Warden.',
        'If you know of it, there is nothing to do. If you do not, tell your privacy officer at once.',
        '{link}',
      ],
    },
    da: {
      subject: 'En ekstra faktor er fjernet fra din konto',
      body: [
        'Kære {name}',
        'En adgangsnøgle eller engangskoder blev {when} fjernet fra den måde, du logger ind i Yare Warden på.',
        'Hvis du kender til det, skal du ikke gøre noget. Hvis ikke, så sig det straks til din databeskyttelsesansvarlige.',
        '{link}',
      ],
    },
  },
};
