import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { openContext, type Context } from '../context.ts';
import { log } from '../log.ts';
import { ownCertificate } from '../own-certificate.ts';
import { MailGateway } from '../protection/intake/mail-gateway.ts';
import { SyslogServer } from '../protection/intake/syslog-server.ts';
import { guardedServer, surviveErrors } from './guarded-server.ts';
import { Health } from './health.ts';
import { endOnSignal, requireMigrated, serve } from './process.ts';

const PATIENCE = { headMs: 5000, wholeMs: 5000 };

/** Takes what other systems tell by their own ways: acts by syslog, and mail on its way out. */
export async function main(): Promise<void> {
  const ctx = openContext();
  await requireMigrated(ctx);
  const { HOST, INTAKE_PORT, SYSLOG_PORT, GATEWAY_PORT, SMTP_URL } = ctx.settings;
  const syslog = new SyslogServer(ctx, await certificate(ctx));
  const gateway = new MailGateway(ctx, SMTP_URL);
  await syslog.start(SYSLOG_PORT, HOST);
  await gateway.start(GATEWAY_PORT, HOST);
  const health = new Health(ctx.store);
  const server = guardedServer('intake', PATIENCE, (_request, response) => health.answer(response));
  await serve(server, INTAKE_PORT, HOST, 'INTAKE_PORT');
  log.info({ syslog: SYSLOG_PORT, mail: GATEWAY_PORT }, 'taking in');
  surviveErrors('intake');
  endOnSignal(async () => {
    server.close();
    await Promise.all([syslog.close(), gateway.close()]);
    await ctx.store.close();
  });
}

async function certificate({ settings }: Context) {
  const { INTAKE_TLS_CERT, INTAKE_TLS_KEY, DATA_DIR } = settings;
  if (INTAKE_TLS_CERT && INTAKE_TLS_KEY)
    return {
      cert: await readFile(INTAKE_TLS_CERT, 'utf8'),
      key: await readFile(INTAKE_TLS_KEY, 'utf8'),
    };
  return ownCertificate(join(DATA_DIR, 'intake-certificate'), 'Yare Warden, intake', ['localhost']);
}
