import { createServer, type AddressInfo } from 'node:net';

/** Ports that nothing uses at the moment of asking. */
export async function freePorts(count: number): Promise<number[]> {
  const servers = await Promise.all(
    Array.from({ length: count }, () => {
      const server = createServer();
      return new Promise<typeof server>((ready) => server.listen(0, '127.0.0.1', () => ready(server)));
    }),
  );
  const ports = servers.map((s) => (s.address() as AddressInfo).port);
  await Promise.all(servers.map((s) => new Promise((closed) => s.close(closed))));
  return ports;
}
