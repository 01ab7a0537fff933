/** A host's name as it is on the wire (RFC 5891): lower case, `xn--` for what is no ASCII; as it was where it is none. */
export function asciiHost(host: string): string {
  const url = `http://${host.trim()}/`;
  if (/[\s/?#@\\]/.test(host.trim()) || !URL.canParse(url)) return host;
  return new URL(url).hostname.replace(/\.$/, '');
}
