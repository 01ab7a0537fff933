import { prepareDatabase } from '../launcher/database-command.ts';
import { openStore, type Store } from '../src/server/store/pool.ts';
import { ownDatabase } from './own-database.ts';

/** A database that no other test knows, brought up to date: for what is about all there is. */
export async function freshDatabase(name: string): Promise<{ readonly url: string; readonly store: Store }> {
  const url = new URL(ownDatabase());
  const server = openStore(url.href, 2);
  await server.run(`DROP DATABASE IF EXISTS ${name}`);
  await server.run(`CREATE DATABASE ${name} CHARACTER SET latin1`);
  await server.close();
  url.pathname = `/${name}`;
  return { url: url.href, store: (await prepareDatabase(url.href)).store };
}
