import { takesSecret, type SourceAddress, type SourceKind } from '../../../core/holdings/sources/source.ts';
import { Field } from '../../parts/Field.tsx';

/** An address as it is typed. */
export type TypedAddress = Readonly<Record<string, string>>;

interface Line {
  readonly key: string;
  readonly label: string;
  readonly hint?: string;
  readonly placeholder?: string;
}

const HOST: Line = { key: 'host', label: 'Server', placeholder: 'mail.company.example' };
const PORT: Line = { key: 'port', label: 'Port' };
const USER: Line = { key: 'user', label: 'User', hint: 'One that may only read.' };

const LINES: Readonly<Record<SourceKind, readonly Line[]>> = {
  folder: [
    {
      key: 'root',
      label: 'Folder',
      hint: 'The whole path on the machine that reads, of a share that is mounted there.',
      placeholder: '/srv/shares/port',
    },
  ],
  'mail folder': [
    {
      key: 'root',
      label: 'Folder',
      hint: 'With Maildir folders or .mbox files in it.',
      placeholder: '/srv/mail',
    },
  ],
  imap: [HOST, { ...PORT, placeholder: '993' }, USER],
  mariadb: [HOST, { ...PORT, placeholder: '3306' }, { key: 'database', label: 'Database' }, USER],
  postgresql: [HOST, { ...PORT, placeholder: '5432' }, { key: 'database', label: 'Database' }, USER],
  'object store': [
    { key: 'endpoint', label: 'Address of the store', placeholder: 'https://store.company.example' },
    { key: 'bucket', label: 'Bucket' },
    { key: 'prefix', label: 'Only below', hint: 'The beginning of the keys; empty for the whole bucket.' },
    { key: 'user', label: 'Access key', hint: 'Of one that may only list and get.' },
  ],
};

/** The fields of one kind of address, and of what opens it. */
export function AddressFields({
  kind,
  typed,
  secret,
  secretHint,
  error,
  onType,
  onSecret,
}: {
  readonly kind: SourceKind;
  readonly typed: TypedAddress;
  readonly secret: string;
  readonly secretHint?: string;
  readonly error: (field: string) => string | undefined;
  readonly onType: (key: string, value: string) => void;
  readonly onSecret: (secret: string) => void;
}) {
  return (
    <>
      {LINES[kind].map(({ key, label, hint, placeholder }) => (
        <Field key={key} label={label} {...(hint ? { hint } : {})} error={error(key)}>
          <input
            value={typed[key] ?? ''}
            placeholder={placeholder}
            spellCheck={false}
            autoComplete="off"
            onChange={(e) => onType(key, e.target.value)}
          />
        </Field>
      ))}
      {kind === 'imap' && (
        <label>
          <input
            type="checkbox"
            checked={typed['secure'] !== 'no'}
            onChange={(e) => onType('secure', e.target.checked ? 'yes' : 'no')}
          />{' '}
          Encrypted from the first byte
        </label>
      )}
      {takesSecret(kind) && (
        <Field
          label={kind === 'object store' ? 'Secret key' : 'Password'}
          hint={secretHint ?? 'Kept encrypted, and never shown again.'}
          error={error('secret')}
        >
          <input
            type="password"
            value={secret}
            autoComplete="new-password"
            onChange={(e) => onSecret(e.target.value)}
          />
        </Field>
      )}
    </>
  );
}

/** What was typed as an address, for the endpoint to check. */
export function typedAddress(kind: SourceKind, typed: TypedAddress): Record<string, unknown> {
  const fields = Object.fromEntries(
    LINES[kind].flatMap(({ key }): (readonly [string, string | number])[] => {
      const value = (typed[key] ?? '').trim();
      if (key === 'port') return value === '' ? [] : [[key, Number(value)]];
      return [[key, value]];
    }),
  );
  return { kind, ...fields, ...(kind === 'imap' ? { secure: typed['secure'] !== 'no' } : {}) };
}

/** An address as it is typed again. */
export function addressTyped(address: SourceAddress): TypedAddress {
  return Object.fromEntries(
    Object.entries(address).map(([k, v]) => [k, typeof v === 'boolean' ? (v ? 'yes' : 'no') : String(v)]),
  );
}
