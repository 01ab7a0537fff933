/** An address that is linked to, as it is read: of mail and telephones what they are reached at. */
export function linkText(href: string): string {
  const isReached = /^(?:mailto|tel):/i.test(href);
  const address = isReached ? (href.replace(/^[a-z]+:/i, '').split('?')[0] ?? '') : href;
  try {
    return isReached ? decodeURIComponent(address) : decodeURI(address);
  } catch {
    return address;
  }
}
