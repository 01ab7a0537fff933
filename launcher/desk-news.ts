import { openStore } from '../src/server/store/pool.ts';
import { putOnToday } from '../src/server/desk/today.ts';
import type { Ended } from './processes.ts';
import { say } from './project.ts';

/** What each is called to a person. */
const CALLED: Readonly<Record<string, string>> = {
  web: 'desk',
  visitor: 'visitor service',
  worker: 'worker',
  intake: 'intake service',
  standins: 'stand-in service',
  database: 'database',
};
const TRIES = 150;
const PAUSE_MS = 2000;

/** Tells of a process that ended by itself: here at once, and on the desk as soon as its database answers. */
export function tellEnded(url: string, ended: Ended): void {
  const { how, said, againIn } = ended;
  const name = CALLED[ended.name] ?? ended.name;
  const at = new Date();
  say(
    `◆ The ${name} ended by itself (${how}). ${againIn === undefined ? 'It ended too often and is left; the rest goes on.' : `It is started again in ${againIn / 1000} s.`}${said ? `\n${said}` : ''}`,
  );
  void tellDesk(url, at, ended).catch((error: Error) =>
    say(`The desk could not be told that the ${name} ended: ${error.message}`),
  );
}

async function tellDesk(url: string, at: Date, { name: key, how, againIn }: Ended): Promise<void> {
  const name = CALLED[key] ?? key;
  for (let tries = 1; ; tries++) {
    const store = openStore(url, 2);
    try {
      await store.transaction((tx) =>
        putOnToday(tx, {
          kind: 'process',
          key,
          action: 'accounts.edit',
          words:
            againIn === undefined
              ? `The ${name} keeps ending by itself and was not started again`
              : `The ${name} ended by itself and was started again`,
          detail: `${how}; the log of the launcher says more`,
          link: '/today',
          since: at,
          dismissable: true,
        }),
      );
      return;
    } catch (error) {
      if (tries === TRIES) throw error;
      await new Promise((done) => setTimeout(done, PAUSE_MS));
    } finally {
      await store.close().catch(() => {});
    }
  }
}
