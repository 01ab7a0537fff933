import { mariadbRights } from '../databases/mariadb-rights.ts';
import type { OpenedAddress } from '../../holdings/offers.ts';
import { writeGrant } from '../databases/write-grant.ts';
import { ReaderError, StepRefused, type AccessReader } from './reader.ts';

type Opened = Extract<OpenedAddress, { kind: 'mariadb' }>;

/** Grants of the server of a database of Holdings: the whole server’s, as they say who reaches the database. */
export function databaseReader(
  { database, ...address }: Opened,
  { id, name }: { readonly id: number; readonly name: string },
): AccessReader {
  return {
    async *lines() {
      const lines = await mariadbRights(address, name).catch((error: unknown) => {
        throw new ReaderError(`Its grants cannot be read: ${(error as Error).message}.`);
      });
      const top = `${name}:${database}`;
      for (const line of lines) {
        if (line.type !== 'place') yield { line };
        else if (line.id === top) yield { line, holds: String(id) };
        else if (line.id.startsWith(`${top}.`))
          yield { line, holds: `${id}/${line.id.slice(top.length + 1)}` };
        else yield { line, holds: null };
      }
    },
    async apply(_id, step) {
      if (step.is !== 'grant') throw new StepRefused('a database knows grants alone');
      return writeGrant(address, name, step);
    },
    close: () => Promise.resolve(),
  };
}
