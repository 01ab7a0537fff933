export type Theme = 'light' | 'dark' | 'system';

/** Kept in a cookie, so that the server draws the next page in it at once. */
export function setTheme(theme: Theme): void {
  document.documentElement.dataset['theme'] = theme;
  document.cookie = `yare_theme=${theme}; Max-Age=31536000; Path=/; SameSite=Lax`;
}
