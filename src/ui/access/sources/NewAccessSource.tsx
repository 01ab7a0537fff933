import { useState } from 'react';
import { useQuery } from '@tanstack/react-query';
import {
  ACCESS_SOURCE_KINDS,
  isDirectory,
  takesAccessSecret,
  takesChanges,
  type AccessAddress,
  type AccessSourceKind,
} from '../../../core/access/sources/access-source.ts';
import type * as holdingsApi from '../../../pages/api/holdings/sources/index.ts';
import type * as sourcesApi from '../../../pages/api/access/sources/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { go, setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { sendFile } from '../../holdings/offers.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { SOURCES } from '../links.ts';

const ADDRESS_WORDS: Readonly<Partial<Record<AccessSourceKind, string>>> = {
  scim: 'https://directory.company.example/scim/v2',
  ldap: 'ldaps://directory.company.example',
  library: 'https://library.company.example',
};

/** Takes in where rights, or people and groups, are read from: it is tried before it is kept, then read. */
export function NewAccessSource() {
  const [name, setName] = useState('');
  const [kind, setKind] = useState<AccessSourceKind>('library');
  const [url, setUrl] = useState('');
  const [user, setUser] = useState('');
  const [base, setBase] = useState('');
  const [source, setSource] = useState('');
  const [secret, setSecret] = useState('');
  const [file, setFile] = useState<File>();
  const { busy, refused, error: errorOf, send } = useSending();
  const error = (field: string) => errorOf(field, `address.${field}`, `content.${field}`);
  const wanted = kind === 'folder' || kind === 'database' ? kind : undefined;
  const holdings = useQuery({
    queryKey: ['sources', 'of kind', wanted ?? ''],
    enabled: wanted !== undefined,
    queryFn: () => request<AnswerOf<typeof holdingsApi.GET>>('GET', '/api/holdings/sources?size=500'),
  });
  const address = (): AccessAddress => {
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
        return { kind, source: Number(source) };
    }
  };
  const take = async () => {
    const upload = kind === 'estate file' && file ? await sendFile(file) : undefined;
    await request<AnswerOf<typeof sourcesApi.POST>>('POST', '/api/access/sources', {
      content: {
        ...{ name, writes: takesChanges(kind), holds: [] },
        everyHours: kind === 'estate file' ? null : isDirectory(kind) ? 24 : 6,
      },
      ...{ address: address(), secret, upload },
    });
    tell(`${name} is taken in, and is being read.`);
    go(SOURCES);
  };
  const unplaced = refused && !FIELDS.some((f) => error(f)) ? refused.message : undefined;
  return (
    <DialogForm
      title="Take in a source of rights"
      onClose={() => setQuery({ new: null })}
      onSubmit={() => send(take)}
      act="Try it and take it in"
      actBusy="Trying to read it"
      busy={busy}
      refused={unplaced}
    >
      <Field label="What it is called" error={error('name')}>
        <input
          value={name}
          maxLength={120}
          placeholder="Directory"
          onChange={(e) => setName(e.target.value)}
        />
      </Field>
      <Field label="Kind">
        <select value={kind} onChange={(e) => setKind(e.target.value as AccessSourceKind)}>
          {Object.entries(ACCESS_SOURCE_KINDS).map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
      </Field>
      {ADDRESS_WORDS[kind] && (
        <Field label="Address" error={error('url') ?? error('address')}>
          <input
            value={url}
            maxLength={500}
            placeholder={ADDRESS_WORDS[kind]}
            onChange={(e) => setUrl(e.target.value)}
          />
        </Field>
      )}
      {kind === 'ldap' && (
        <>
          <Field label="Where people and groups stand" error={error('base')}>
            <input
              value={base}
              maxLength={500}
              placeholder="dc=company,dc=example"
              onChange={(e) => setBase(e.target.value)}
            />
          </Field>
          <Field label="Read as" error={error('user')}>
            <input
              value={user}
              maxLength={500}
              placeholder="cn=reader,dc=company,dc=example"
              onChange={(e) => setUser(e.target.value)}
            />
          </Field>
        </>
      )}
      {wanted !== undefined && (
        <Field label="Source of Holdings" error={error('source') ?? error('address')}>
          <select value={source} onChange={(e) => setSource(e.target.value)}>
            <option value="">choose one</option>
            {(holdings.data?.rows ?? [])
              .filter((s) =>
                wanted === 'folder' ? s.kind === 'folder' : s.kind === 'mariadb' || s.kind === 'postgresql',
              )
              .map((s) => (
                <option key={s.id} value={s.id}>
                  {s.name}
                </option>
              ))}
          </select>
        </Field>
      )}
      {kind === 'estate file' && (
        <Field
          label="File"
          hint="A JSON object a line, or a table in CSV, as docs/estate.md says"
          error={error('upload')}
        >
          <input type="file" onChange={(e) => setFile(e.target.files?.[0])} />
        </Field>
      )}
      {takesAccessSecret(kind) && (
        <Field label={kind === 'ldap' ? 'Password' : 'Token'} error={error('secret')}>
          <input
            type="password"
            autoComplete="off"
            value={secret}
            maxLength={2000}
            onChange={(e) => setSecret(e.target.value)}
          />
        </Field>
      )}
    </DialogForm>
  );
}

const FIELDS = ['name', 'url', 'address', 'base', 'user', 'source', 'upload', 'secret'];
