import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Intake } from '../../area.ts';
import type { Context } from '../../context.ts';
import { ownCertificate } from '../../own-certificate.ts';
import { MailGateway } from './mail-gateway.ts';
import { SyslogServer } from './syslog-server.ts';

/** Listens for acts that are told by syslog, and for mail on its way out. */
export async function openIntake(ctx: Context): Promise<readonly Intake[]> {
  const { HOST, SYSLOG_PORT, GATEWAY_PORT, SMTP_URL } = ctx.settings;
  const syslog = new SyslogServer(ctx, await certificate(ctx));
  const gateway = new MailGateway(ctx, SMTP_URL);
  await syslog.start(SYSLOG_PORT, HOST);
  await gateway.start(GATEWAY_PORT, HOST);
  return [syslog, gateway];
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
