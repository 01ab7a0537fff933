import { mkdir, readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { generate } from 'selfsigned';

export interface Certificate {
  readonly key: string;
  /** Vouches for itself. */
  readonly cert: string;
}

/** What is spoken TLS with where nobody brings a certificate: made once for a folder, and kept there. */
export async function ownCertificate(
  folder: string,
  commonName: string,
  hosts: readonly string[],
): Promise<Certificate> {
  const read = async () => ({
    key: await readFile(join(folder, 'key.pem'), 'utf8'),
    cert: await readFile(join(folder, 'cert.pem'), 'utf8'),
  });
  try {
    return await read();
  } catch {
    const now = Date.now();
    const made = await generate([{ name: 'commonName', value: commonName }], {
      keyType: 'ec',
      algorithm: 'sha256',
      notBeforeDate: new Date(now - 86_400_000),
      notAfterDate: new Date(now + 3650 * 86_400_000),
      extensions: [
        { name: 'basicConstraints', cA: false },
        { name: 'subjectAltName', altNames: hosts.map((value) => ({ type: 2 as const, value })) },
      ],
    });
    await mkdir(folder, { recursive: true });
    for (const [name, text] of [
      ['key.pem', made.private],
      ['cert.pem', made.cert],
    ] as const) {
      await writeFile(join(folder, `${name}.new`), text, { mode: 0o600 });
      await rename(join(folder, `${name}.new`), join(folder, name));
    }
    return read();
  }
}
