/** What went wrong between a browser and a passkey, in words; `undefined` for anything else. */
export function passkeyFault(error: unknown): string | undefined {
  if (!(error instanceof Error)) return undefined;
  if (error.name === 'NotAllowedError' || error.name === 'AbortError')
    return 'No passkey was shown. Try again, or use another way.';
  if (error.name === 'InvalidStateError') return 'This device has a passkey of yours already.';
  if (error.name === 'NotSupportedError' || error.name === 'SecurityError' || error.name === 'WebAuthnError')
    return 'This browser, or this address, does not do passkeys.';
  return undefined;
}
