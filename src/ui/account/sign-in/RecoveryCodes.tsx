import { recoveryWords } from '../../../core/accounts/sign-in/one-time.ts';
import { CopyText } from '../../parts/CopyText.tsx';

/** Codes that stand in for a lost second factor, shown this once. */
export function RecoveryCodes({ codes }: { readonly codes: readonly string[] }) {
  return (
    <>
      <p>
        Each of these lets you in once, in place of your second factor, when that is lost. They are shown this
        once: print them, or keep them where you keep passwords.
      </p>
      <CopyText label="Recovery codes" text={codes.map(recoveryWords).join('\n')} />
    </>
  );
}
