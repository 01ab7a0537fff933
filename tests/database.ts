import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';
import { prepareDatabase } from '../launcher/database-command.ts';
import { freePorts } from '../launcher/free-port.ts';
import { startMariadb } from '../launcher/mariadb.ts';
import { openStore } from '../src/server/store/pool.ts';

declare module 'vitest' {
  export interface ProvidedContext {
    /** Of the server; `own-database.ts` says which database there is whose. */
    databaseUrl: string;
  }
}

/** A MariaDB of the tests' own, thrown away after them. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const folder = await mkdtemp(join(tmpdir(), 'yare-test-'));
  const [port = 0] = await freePorts(1);
  const database = await startMariadb(folder, port, true);
  const server = openStore(database.url, 1);
  await server.run('CREATE DATABASE yare_1');
  await server.close();
  const url = new URL(database.url);
  url.pathname = '/yare_1';
  const { store } = await prepareDatabase(url.href);
  await store.close();
  project.provide('databaseUrl', database.url);
  return async () => {
    await database.stop();
    await rm(folder, { recursive: true, force: true });
  };
}
