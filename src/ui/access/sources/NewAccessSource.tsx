import { useState } from 'react';
import {
  ACCESS_SOURCE_KINDS,
  isDirectory,
  takesChanges,
  type AccessSourceKind,
} from '../../../core/access/sources/access-source.ts';
import type * as sourcesApi from '../../../pages/api/access/sources/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { go, setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { sourceLink } from '../links.ts';
import {
  ACCESS_FIELDS,
  AccessAddressFields,
  NOTHING_TYPED,
  typedAccess,
  typedUpload,
} from './AccessAddressFields.tsx';

/** Takes in where rights, or people and groups, are read from: it is tried before it is kept, then read. */
export function NewAccessSource() {
  const [name, setName] = useState('');
  const [kind, setKind] = useState<AccessSourceKind>('library');
  const [typed, setTyped] = useState(NOTHING_TYPED);
  const { busy, refused, error: errorOf, send } = useSending();
  const error = (field: string) => errorOf(field, `address.${field}`, `content.${field}`);
  const take = async () => {
    const { id } = await request<AnswerOf<typeof sourcesApi.POST>>('POST', '/api/access/sources', {
      content: {
        ...{ name, writes: takesChanges(kind), opens: '', holds: [] },
        everyHours: kind === 'estate file' ? null : isDirectory(kind) ? 24 : 6,
      },
      ...{ address: typedAccess(kind, typed), secret: typed.secret },
      upload: await typedUpload(kind, typed),
    });
    tell(`${name} is taken in, and is being read.`);
    go(sourceLink(id));
  };
  const unplaced = refused && !['name', ...ACCESS_FIELDS].some((f) => error(f)) ? refused.message : undefined;
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
      <AccessAddressFields kind={kind} typed={typed} onType={setTyped} error={error} />
    </DialogForm>
  );
}
