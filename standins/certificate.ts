import { join } from 'node:path';
import { ownCertificate, type Certificate } from '../src/server/own-certificate.ts';

/** What the stand-ins speak TLS with: made once for a data folder, and kept there. */
export function standinCertificate(dataDir: string, hosts: readonly string[]): Promise<Certificate> {
  return ownCertificate(join(dataDir, 'standin-certificate'), 'Stand-ins of the demo', hosts);
}
