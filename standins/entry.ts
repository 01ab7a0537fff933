import { readFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import { z } from 'zod';
import { openContext } from '../src/server/context.ts';
import { openText } from '../src/server/secret.ts';
import { endOnSignal, run } from '../src/server/processes/process.ts';
import { join } from 'node:path';
import { startCloudListing } from './cloud-listing.ts';
import { device } from './device/device.ts';
import { directory } from './directory/directory.ts';
import { LibraryBook } from './library/library-book.ts';
import { library } from './library/library.ts';
import { login } from './login/login.ts';
import { LOGIN_CLIENT, LOGIN_HOST, LOGIN_PEOPLE } from './login/people.ts';
import { startNameServer } from './name-server.ts';
import { levelClient } from './office/level-client.ts';
import { office } from './office/office.ts';
import { standinToken } from './token.ts';
import { Mailing, MAILING_HOST } from './mailing.ts';
import { Mailbox } from './mailbox.ts';
import { startStandins } from './server.ts';

/** Runs the stand-ins beside the demo: the keys of its sites come from the database. */
run('standins', async () => {
  const ctx = openContext();
  let keys: Record<string, string> = {};
  let secrets: Record<string, string> = {};
  const read = async () => {
    const rows = await ctx.store.all(
      z.object({ host: z.string(), site_key: z.string() }),
      'SELECT host, site_key FROM site WHERE host LIKE ?',
      [`%:${ctx.settings.STANDIN_PORT}`],
    );
    keys = Object.fromEntries(rows.map((r) => [r.host.split(':')[0] as string, r.site_key]));
    const hooks = await ctx.store.all(
      z.object({ id: z.number(), secret: z.string() }),
      'SELECT id, secret FROM webhook WHERE url LIKE ?',
      [`http://${MAILING_HOST}:%`],
    );
    secrets = Object.fromEntries(
      hooks.map((h) => [`hook-${h.id}`, openText(ctx.settings.SECRET_KEY, h.secret)]),
    );
  };
  await read();
  const timer = setInterval(() => void read().catch(() => {}), 2000);
  const mailbox = new Mailbox(ctx.settings.DATA_DIR);
  await mailbox.start(ctx.settings.STANDIN_MAIL_PORT);
  const server = await startStandins({
    port: ctx.settings.STANDIN_PORT,
    visitorOrigin: ctx.settings.VISITOR_ORIGIN,
    dataDir: ctx.settings.DATA_DIR,
    mailbox,
    mailing: new Mailing(ctx.settings.DATA_DIR, (keyId) => secrets[keyId]),
    office: office({
      dataDir: ctx.settings.DATA_DIR,
      levels: levelClient(ctx.settings.WEB_ORIGIN, standinToken(ctx.settings.SECRET_KEY, 'office')),
      mailPort: ctx.settings.STANDIN_MAIL_PORT,
    }),
    device: device({
      deskOrigin: ctx.settings.WEB_ORIGIN,
      script: () => readFile(fileURLToPath(new URL('./standin-device/device.js', import.meta.url)), 'utf8'),
    }),
    directory: directory(
      join(ctx.settings.DATA_DIR, 'directory.json'),
      standinToken(ctx.settings.SECRET_KEY, 'directory'),
    ),
    library: library(
      new LibraryBook(join(ctx.settings.DATA_DIR, 'library.json')),
      standinToken(ctx.settings.SECRET_KEY, 'library'),
    ),
    login: login(
      `http://${LOGIN_HOST}:${ctx.settings.STANDIN_PORT}`,
      {
        id: LOGIN_CLIENT,
        secret: standinToken(ctx.settings.SECRET_KEY, 'login'),
        redirect: `${ctx.settings.WEB_ORIGIN}/sign-on/back`,
      },
      LOGIN_PEOPLE,
    ),
    siteKeys: () => keys,
  });
  const cloud = await startCloudListing({
    dataDir: ctx.settings.DATA_DIR,
    port: ctx.settings.STANDIN_TLS_PORT,
    storePort: ctx.settings.STANDIN_PORT,
  });
  const names = await startNameServer(ctx.settings.STANDIN_PORT);
  endOnSignal(async () => {
    clearInterval(timer);
    names.close();
    mailbox.close();
    server.close();
    server.closeAllConnections();
    cloud.close();
    cloud.closeAllConnections();
    await ctx.store.close();
  });
});
