import { execFileSync } from 'node:child_process';
import { chownSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { startServer, type ServerProcess } from './server-process.ts';

/** PostgreSQL will not run as root; Debian's package makes it a user. */
function postgresUser(): { readonly uid: number; readonly gid: number } | undefined {
  if (process.getuid?.() !== 0) return undefined;
  const id = (flag: string) => Number(execFileSync('id', [flag, 'postgres'], { encoding: 'utf8' }));
  return { uid: id('-u'), gid: id('-g') };
}

/** A PostgreSQL of the tests' own, with the user `reader` and its password. */
export async function startPostgresql(
  folder: string,
  port: number,
  password: string,
): Promise<ServerProcess> {
  const versions = readdirSync('/usr/lib/postgresql').sort((a, b) => Number(b) - Number(a));
  const bin = join('/usr/lib/postgresql', versions[0] ?? '', 'bin');
  const as = postgresUser();
  const secret = join(folder, 'password');
  writeFileSync(secret, password);
  if (as) for (const path of [folder, secret]) chownSync(path, as.uid, as.gid);
  const data = join(folder, 'data');
  execFileSync(
    join(bin, 'initdb'),
    ['-D', data, '-U', 'reader', '-A', 'scram-sha-256', `--pwfile=${secret}`, '-E', 'UTF8'],
    {
      ...as,
      stdio: 'pipe',
      cwd: folder,
    },
  );
  return startServer(
    join(bin, 'postgres'),
    [
      '-D',
      data,
      '-p',
      String(port),
      '-c',
      'listen_addresses=127.0.0.1',
      '-c',
      `unix_socket_directories=${folder}`,
      '-c',
      'fsync=off',
    ],
    port,
    as,
  );
}
