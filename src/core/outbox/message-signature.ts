/** What a receiver needs to check that a message is ours and whole. */
export interface SignedParts {
  /** Upper case. */
  readonly method: string;
  readonly target: string;
  /** RFC 9530 `Content-Digest` of the body. */
  readonly digest: string;
  readonly id: string;
  /** Seconds since 1970. */
  readonly created: number;
  /** Names the key, so that it can be changed. */
  readonly keyId: string;
}

const COVERED = '("@method" "@target-uri" "content-digest" "idempotency-key")';

/** RFC 9421 section 2.3: the parameters of the signature, as `Signature-Input` carries them. */
export function signatureParams({ created, keyId }: Pick<SignedParts, 'created' | 'keyId'>): string {
  return `${COVERED};created=${created};keyid="${keyId}";alg="hmac-sha256"`;
}

/** RFC 9421 section 2.5: what is signed. Throws a RangeError where a part would not fit on its line. */
export function signatureBase(parts: SignedParts): string {
  for (const value of [parts.method, parts.target, parts.digest, parts.id, parts.keyId])
    if (/[^\x20-\x7e]/.test(value)) throw new RangeError('A part of a signature holds what no header can.');
  return [
    `"@method": ${parts.method}`,
    `"@target-uri": ${parts.target}`,
    `"content-digest": ${parts.digest}`,
    `"idempotency-key": ${parts.id}`,
    `"@signature-params": ${signatureParams(parts)}`,
  ].join('\n');
}
