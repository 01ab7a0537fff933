/** Where to go after signing in, whole: only a place of this desk, whatever the address of the page asks for. */
export function placeAfterSignIn(search: string, origin: string): string {
  const today = `${origin}/today`;
  const to = new URLSearchParams(search).get('to');
  if (to === null || !URL.canParse(to, origin)) return today;
  const url = new URL(to, origin);
  return url.origin === origin ? url.href : today;
}
