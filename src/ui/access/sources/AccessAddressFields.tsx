import { useQuery } from '@tanstack/react-query';
import type * as holdingsApi from '../../../pages/api/access/sources/holdings.ts';
import {
  takesAccessSecret,
  type AccessAddress,
  type AccessSourceKind,
} from '../../../core/access/sources/access-source.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { request } from '../../desk/request.ts';
import { sendFile } from '../../holdings/offers.ts';
import { Field } from '../../parts/Field.tsx';

/** An address, what opens it, and a file, as they are typed. */
export interface TypedAccess {
  readonly url: string;
  readonly user: string;
  readonly base: string;
  readonly source: string;
  readonly secret: string;
  readonly file: File | undefined;
}

export const NOTHING_TYPED: TypedAccess = {
  ...{ url: '', user: '', base: '', source: '', secret: '' },
  file: undefined,
};

/** As it is, to be typed over. */
export function accessTyped(address: AccessAddress): TypedAccess {
  const { kind: _kind, ...rest } = address;
  return {
    ...NOTHING_TYPED,
    ...rest,
    source: 'source' in address ? String(address.source) : '',
  };
}

export function typedAccess(kind: AccessSourceKind, typed: TypedAccess): AccessAddress {
  const { url, user, base, source } = typed;
  switch (kind) {
    case 'staff list':
    case 'estate file':
      return { kind };
    case 'scim':
    case 'library':
      return { kind, url };
    case 'ldap':
      return { kind, url, user, base };
    case 'folder':
    case 'database':
    case 'mailbox':
      return { kind, source: Number(source) };
  }
}

/** The file that was chosen, sent; `undefined` for a kind that is no file. */
export async function typedUpload(
  kind: AccessSourceKind,
  { file }: TypedAccess,
): Promise<number | undefined> {
  return kind === 'estate file' && file ? sendFile(file) : undefined;
}

/** The fields that a refusal can name. */
export const ACCESS_FIELDS = ['url', 'address', 'base', 'user', 'source', 'upload', 'secret'] as const;

const EXAMPLES: Readonly<Partial<Record<AccessSourceKind, string>>> = {
  scim: 'https://directory.company.example/scim/v2',
  ldap: 'ldaps://directory.company.example',
  library: 'https://library.company.example',
};

/** The fields of one kind of address, and of what opens it. */
export function AccessAddressFields({
  kind,
  typed,
  onType,
  error,
  secretHint,
}: {
  readonly kind: AccessSourceKind;
  readonly typed: TypedAccess;
  readonly onType: (typed: TypedAccess) => void;
  readonly error: (field: string) => string | undefined;
  readonly secretHint?: string | undefined;
}) {
  const text = (key: 'url' | 'user' | 'base', placeholder: string) => (
    <input
      value={typed[key]}
      maxLength={500}
      placeholder={placeholder}
      onChange={(e) => onType({ ...typed, [key]: e.target.value })}
    />
  );
  return (
    <>
      {EXAMPLES[kind] && (
        <Field label="Address" error={error('url') ?? error('address')}>
          {text('url', EXAMPLES[kind])}
        </Field>
      )}
      {kind === 'ldap' && (
        <>
          <Field label="Where people and groups stand" error={error('base')}>
            {text('base', 'dc=company,dc=example')}
          </Field>
          <Field label="Read as" error={error('user')}>
            {text('user', 'cn=reader,dc=company,dc=example')}
          </Field>
        </>
      )}
      {(kind === 'folder' || kind === 'database' || kind === 'mailbox') && (
        <HoldingsField
          kind={kind}
          value={typed.source}
          error={error('source') ?? error('address')}
          onChange={(source) => onType({ ...typed, source })}
        />
      )}
      {kind === 'estate file' && (
        <Field
          label="File"
          hint="A JSON object a line, or a table in CSV, as docs/estate.md says"
          error={error('upload')}
        >
          <input type="file" onChange={(e) => onType({ ...typed, file: e.target.files?.[0] })} />
        </Field>
      )}
      {takesAccessSecret(kind) && (
        <Field
          label={kind === 'ldap' ? 'Password' : 'Token'}
          error={error('secret')}
          {...(secretHint === undefined ? {} : { hint: secretHint })}
        >
          <input
            type="password"
            autoComplete="off"
            value={typed.secret}
            maxLength={2000}
            onChange={(e) => onType({ ...typed, secret: e.target.value })}
          />
        </Field>
      )}
    </>
  );
}

const KINDS = { folder: ['folder'], database: ['mariadb', 'postgresql'], mailbox: ['imap'] } as const;

function HoldingsField({
  kind,
  value,
  error,
  onChange,
}: {
  readonly kind: keyof typeof KINDS;
  readonly value: string;
  readonly error: string | undefined;
  readonly onChange: (source: string) => void;
}) {
  const holdings = useQuery({
    queryKey: ['access-holdings'],
    queryFn: () => request<AnswerOf<typeof holdingsApi.GET>>('GET', '/api/access/sources/holdings'),
  });
  const fitting = (holdings.data ?? []).filter((s) => (KINDS[kind] as readonly string[]).includes(s.kind));
  return (
    <Field
      label="Source of Holdings"
      error={error}
      {...(holdings.data && fitting.length === 0
        ? { hint: `Holdings knows no ${kind} yet: take it in there first.` }
        : {})}
    >
      <select value={value} onChange={(e) => onChange(e.target.value)}>
        <option value="">choose one</option>
        {fitting.map((s) => (
          <option key={s.id} value={s.id}>
            {s.name}
          </option>
        ))}
      </select>
    </Field>
  );
}
