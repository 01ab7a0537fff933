import type { ServerResponse } from 'node:http';

const MOST_WAITING = 1024 * 1024;
/** Whoever reads nothing for so long reads no more. */
const PATIENCE_MS = 60_000;

/** What a long answer needs to know of the connection it goes out on. */
export interface Outgoing {
  /** Settles once there is room for more; throws where the reader has left, or has stopped reading. */
  room(): Promise<void>;
  /** Calls once the answer is out, or the connection is gone. */
  whenOver(call: () => void): void;
  /** Breaks the connection, so that what is out already is not taken for the whole. */
  breakOff(): void;
}

export function outgoingOf(response: ServerResponse): Outgoing {
  return {
    room: async () => {
      if (response.destroyed) throw new Error('The reader has left.');
      if (response.writableLength < MOST_WAITING) return;
      await new Promise<void>((done, fail) => {
        const late = setTimeout(() => fail(new Error('The reader has stopped reading.')), PATIENCE_MS);
        const end = (settle: () => void) => () => {
          clearTimeout(late);
          response.off('drain', drained);
          response.off('close', closed);
          settle();
        };
        const drained = end(done);
        const closed = end(() => fail(new Error('The reader has left.')));
        response.on('drain', drained);
        response.on('close', closed);
      });
    },
    whenOver: (call) => {
      if (response.destroyed || response.writableFinished) call();
      else response.once('close', call);
    },
    breakOff: () => void response.destroy(),
  };
}

/** For answers that nobody reads over a connection, as in tests: there is nothing to wait for. */
export const NO_CONNECTION: Outgoing = {
  room: () => Promise.resolve(),
  whenOver: (call) => call(),
  breakOff: () => {},
};
