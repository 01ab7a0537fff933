import { build } from './build.ts';
import { tellEnded } from './desk-news.ts';
import { LauncherError } from './launcher-error.ts';
import { Processes } from './processes.ts';
import { asEnvironment, launcherSettings } from './settings.ts';
import { say } from './project.ts';

/** One process alone, on a database that is up to date. */
export async function one(name: 'web' | 'visitor' | 'worker' | 'intake'): Promise<number> {
  const settings = await launcherSettings();
  if (!settings.DATABASE_URL)
    throw new LauncherError(`Set DATABASE_URL to the database that this ${name} process is to use.`);
  await build();
  const url = settings.DATABASE_URL;
  const processes = new Processes((ended) => tellEnded(url, ended));
  const stopped = new Promise<void>((stop) => {
    process.once('SIGINT', stop);
    process.once('SIGTERM', stop);
  });
  const port = {
    web: settings.WEB_PORT,
    visitor: settings.VISITOR_PORT,
    worker: settings.WORKER_PORT,
    intake: settings.INTAKE_PORT,
  }[name];
  try {
    await processes.start(name, asEnvironment(settings), port);
    say(`The ${name} process is ready on port ${port}.`);
    await stopped;
    return 0;
  } finally {
    await processes.stop();
  }
}
