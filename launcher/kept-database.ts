import { startMariadb, type OwnDatabase } from './mariadb.ts';
import { Patience } from './patience.ts';
import type { Ended } from './processes.ts';

/** The database of our own, started again when it ends by itself, until that happens too often. */
export class KeptDatabase {
  readonly #patience = new Patience();
  #database: OwnDatabase | undefined;
  #stopping = false;

  private constructor(
    readonly dataDir: string,
    readonly port: number,
    readonly ended: (ended: Ended) => void,
  ) {}

  static async start(
    dataDir: string,
    port: number,
    ended: (ended: Ended) => void,
  ): Promise<KeptDatabase & { readonly url: string }> {
    const kept = new KeptDatabase(dataDir, port, ended);
    const { url } = await kept.#start();
    return Object.assign(kept, { url });
  }

  async stop(): Promise<void> {
    this.#stopping = true;
    await this.#database?.stop();
  }

  async #start(): Promise<OwnDatabase> {
    const begun = Date.now();
    const database = await startMariadb(this.dataDir, this.port);
    this.#database = database;
    void database.ended.then((how) => this.#endedByItself(how, Date.now() - begun));
    // Stopped while it came up.
    if (this.#stopping) await database.stop();
    return database;
  }

  #endedByItself(how: string, ranMs: number): void {
    if (this.#stopping) return;
    const againIn = this.#patience.after(ranMs);
    this.ended({ name: 'database', how, said: '', againIn });
    if (againIn === undefined) return;
    setTimeout(() => {
      if (this.#stopping) return;
      this.#start().catch((error: Error) => this.#endedByItself(error.message.split('\n')[0] ?? '', 0));
    }, againIn).unref();
  }
}
