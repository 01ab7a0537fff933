/** Where the desk shows a site. */
export function sitePlace(host: string, query = ''): string {
  return `/websites/${encodeURIComponent(host)}${query}`;
}
