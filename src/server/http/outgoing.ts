import type { ServerResponse } from 'node:http';

const MOST_WAITING = 1024 * 1024;

/** What a long answer needs to know of the connection it goes out on. */
export interface Outgoing {
  /** Settles once there is room for more, or the reader is gone. */
  room(): Promise<void>;
  /** Breaks the connection, so that what is out already is not taken for the whole. */
  breakOff(): void;
}

export function outgoingOf(response: ServerResponse): Outgoing {
  return {
    room: async () => {
      if (response.writableLength < MOST_WAITING || response.destroyed) return;
      await new Promise<void>((done) => {
        response.once('drain', done);
        response.once('close', done);
      });
    },
    breakOff: () => void response.destroy(),
  };
}

/** For answers that nobody reads over a connection, as in tests. */
export const NO_CONNECTION: Outgoing = { room: () => Promise.resolve(), breakOff: () => {} };
