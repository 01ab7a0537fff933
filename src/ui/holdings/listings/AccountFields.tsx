import { Field } from '../../parts/Field.tsx';

export interface TypedAccount {
  readonly url: string;
  readonly secret: string;
  readonly certificate: string;
}

/** Where an account lists its stores, and what opens it. */
export function AccountFields({
  typed,
  onType,
  error,
  secretHint = 'Kept encrypted, and never shown again.',
}: {
  readonly typed: TypedAccount;
  readonly onType: (typed: TypedAccount) => void;
  readonly error: (field: string) => string | undefined;
  readonly secretHint?: string;
}) {
  return (
    <>
      <Field
        label="Address of the listing"
        hint="It answers in pages of JSON, by HTTPS."
        error={error('url')}
      >
        <input
          value={typed.url}
          placeholder="https://cloud.company.example/stores"
          spellCheck={false}
          autoComplete="off"
          onChange={(e) => onType({ ...typed, url: e.target.value })}
        />
      </Field>
      <Field label="Key" hint={secretHint} error={error('secret')}>
        <input
          type="password"
          value={typed.secret}
          autoComplete="new-password"
          onChange={(e) => onType({ ...typed, secret: e.target.value })}
        />
      </Field>
      <Field
        label="Certificate"
        hint="In PEM, of a server that no public authority vouches for; else nothing."
        error={error('certificate')}
      >
        <textarea
          rows={3}
          value={typed.certificate}
          spellCheck={false}
          onChange={(e) => onType({ ...typed, certificate: e.target.value })}
        />
      </Field>
    </>
  );
}
