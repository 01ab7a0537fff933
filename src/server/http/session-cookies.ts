import type { AstroCookies } from 'astro';
import { DEVICE_COOKIE, DEVICE_MS, SESSION_COOKIE, type SignedIn } from '../accounts/session.ts';
import { STEP_COOKIE, STEP_MS } from '../accounts/sign-in/sign-in-step.ts';
import type { Settings } from '../settings.ts';

const DEVICE_PATH = '/api/accounts/sign-in';

function kept(url: URL, { WEB_ORIGIN }: Pick<Settings, 'WEB_ORIGIN'>) {
  const secure = url.protocol === 'https:' || WEB_ORIGIN.startsWith('https:');
  return { httpOnly: true, sameSite: 'lax', path: '/', secure } as const;
}

/** Gives a browser the session that began, and ends the step before it. */
export function setSession(
  cookies: AstroCookies,
  url: URL,
  settings: Pick<Settings, 'WEB_ORIGIN'>,
  { token, device }: SignedIn,
): void {
  const most = 30 * 24 * 3600;
  cookies.set(SESSION_COOKIE, token, { ...kept(url, settings), maxAge: most });
  cookies.set(DEVICE_COOKIE, device, {
    ...kept(url, settings),
    path: DEVICE_PATH,
    maxAge: DEVICE_MS / 1000,
  });
  cookies.delete(STEP_COOKIE, { path: '/' });
}

/** Gives a browser what it shows with its next step. */
export function setStep(
  cookies: AstroCookies,
  url: URL,
  settings: Pick<Settings, 'WEB_ORIGIN'>,
  step: string,
): void {
  cookies.set(STEP_COOKIE, step, { ...kept(url, settings), maxAge: STEP_MS / 1000 });
}
