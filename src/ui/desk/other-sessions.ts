import { go } from './location.ts';
import { tell } from './toasts.ts';
import { countWords } from './words.ts';

/** Where signing in leaves how many other sessions are open. */
export const OTHER_SESSIONS = 'yare:other-sessions';

/** After signing in, tells once of one's sessions elsewhere: one of them may be somebody else's. */
export function tellOtherSessions(): void {
  const others = Number(sessionStorage.getItem(OTHER_SESSIONS) ?? 0);
  if (!(others > 0)) return;
  sessionStorage.removeItem(OTHER_SESSIONS);
  tell(
    `You are signed in ${others === 1 ? 'in one other place' : `in ${countWords(others, 'other place')}`}.`,
    {
      act: { words: 'See where', do: () => go('/account') },
    },
  );
}
