import { createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { requireFreePorts, requireRoom } from './prerequisites.ts';
import { launcherSettings } from './settings.ts';

const server = createServer();
let port = 0;
beforeAll(async () => {
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  port = (server.address() as AddressInfo).port;
});
afterAll(() => void server.close());

describe('before anything is started', () => {
  it('a busy port is named with its setting', async () => {
    await expect(requireFreePorts({ WEB_PORT: port })).rejects.toThrow(
      new RegExp(`Port ${port} is taken.*Set WEB_PORT`),
    );
  });

  it('two settings may not share a port', async () => {
    await expect(requireFreePorts({ WEB_PORT: 1, VISITOR_PORT: 1 })).rejects.toThrow(/WEB_PORT|VISITOR_PORT/);
  });

  it('a full disk is told before anything is written', async () => {
    await expect(requireRoom(tmpdir(), 1e18)).rejects.toThrow(/MB are free.*Nothing was written/);
    await expect(requireRoom(tmpdir(), 1)).resolves.toBeUndefined();
    await expect(requireRoom('/nowhere/at/all', 1)).rejects.toThrow(/Set DATA_DIR/);
  });

  it('a setting that cannot be used is named with what it takes', async () => {
    await expect(launcherSettings({ WEB_PORT: '99999' })).rejects.toThrow(/WEB_PORT: .*1 to 65535/);
    await expect(launcherSettings({ DATABASE_URL: 'postgres://x' })).rejects.toThrow(/mysql:\/\//);
    await expect(launcherSettings({ DATA_DIR: '/dev/null/data' })).rejects.toThrow(/DATA_DIR/);
  });
});
