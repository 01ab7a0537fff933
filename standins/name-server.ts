import { createSocket, type Socket } from 'node:dgram';
import { decode, encode, AUTHORITATIVE_ANSWER } from 'dns-packet';
import { canonicalName } from './third-parties.ts';

/** A name server (RFC 1035) over UDP that knows the aliases of the stand-ins, and nothing else. */
export function startNameServer(port: number): Promise<Socket> {
  const socket = createSocket('udp4');
  socket.on('message', (message, from) => {
    let query: ReturnType<typeof decode>;
    try {
      query = decode(message);
    } catch {
      return;
    }
    const [question] = query.questions ?? [];
    if (!question) return;
    const alias = canonicalName(question.name.toLowerCase());
    const answer = encode({
      type: 'response',
      id: query.id ?? 0,
      flags: AUTHORITATIVE_ANSWER | (alias ? 0 : 3),
      questions: [question],
      answers: alias ? [{ type: 'CNAME', name: question.name, ttl: 60, data: alias }] : [],
    });
    socket.send(answer, from.port, from.address);
  });
  socket.on('error', () => {});
  return new Promise((ready, failed) => {
    socket.once('error', failed);
    socket.bind(port, '127.0.0.1', () => ready(socket));
  });
}
