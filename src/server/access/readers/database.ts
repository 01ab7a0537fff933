import type { AccessStep } from '../../../core/access/change/access-change.ts';
import { mariadbRights } from '../databases/mariadb-rights.ts';
import { postgresqlRights } from '../databases/postgresql-rights.ts';
import { writePostgresqlGrant } from '../databases/write-postgresql-grant.ts';
import { writeGrant } from '../databases/write-grant.ts';
import type { OpenedAddress } from '../../holdings/offers.ts';
import { ReaderError, StepRefused, type AccessReader } from './reader.ts';

type Opened = Extract<OpenedAddress, { kind: 'mariadb' | 'postgresql' }>;

interface Holdings {
  readonly id: number;
  readonly name: string;
}

/** Grants of the server of a database of Holdings: the whole server’s, as they say who reaches the database. */
export function databaseReader({ kind, ...address }: Opened, source: Holdings): AccessReader {
  const { database, ...server } = address;
  const read = () =>
    kind === 'mariadb' ? mariadbRights(server, source.name) : postgresqlRights(address, source.name);
  return {
    async *lines() {
      const lines = await read().catch((error: unknown) => {
        throw new ReaderError(`Its grants cannot be read: ${(error as Error).message}.`);
      });
      for (const line of lines)
        yield line.type === 'place' ? { line, holds: holdsOf(kind, line.id, database, source) } : { line };
    },
    async apply(_id: string, step: AccessStep) {
      if (step.is !== 'grant') throw new StepRefused('a database knows grants alone');
      return kind === 'mariadb'
        ? writeGrant(server, source.name, step)
        : writePostgresqlGrant(address, source.name, step);
    },
    close: () => Promise.resolve(),
  };
}

/** Where the rows of a place lie in Holdings: of a server of MariaDB those of one schema do, of PostgreSQL all of the database. */
function holdsOf(
  kind: Opened['kind'],
  place: string,
  database: string,
  { id, name }: Holdings,
): string | null {
  const below = place.slice(name.length + 1);
  if (kind === 'postgresql') return below === '' ? String(id) : `${id}/${below.replace('.', '/')}`;
  if (below === database) return String(id);
  return below.startsWith(`${database}.`) ? `${id}/${below.slice(database.length + 1)}` : null;
}
