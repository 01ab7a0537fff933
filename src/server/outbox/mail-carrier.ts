import { createHash } from 'node:crypto';
import { createTransport } from 'nodemailer';
import { mask } from '../../core/text/mask.ts';
import type { Context } from '../context.ts';
import type { Carrier, Outcome } from './carrier.ts';
import { MailContent, type Claimed } from './outbox.ts';

const PATIENCE_MS = 20_000;

/** Through the mail server that is set. */
export const MAIL: Carrier = { send, knowsAgain: false };

async function send({ settings }: Context, message: Claimed): Promise<Outcome> {
  if (!settings.SMTP_URL) return { how: 'refused', error: 'No mail server is set (SMTP_URL).' };
  const { to, subject, text, html } = MailContent.parse(message.content);
  const transport = createTransport(
    {
      url: settings.SMTP_URL,
      connectionTimeout: PATIENCE_MS,
      greetingTimeout: PATIENCE_MS,
      socketTimeout: PATIENCE_MS,
      disableFileAccess: true,
      disableUrlAccess: true,
    } as Parameters<typeof createTransport>[0],
    { from: settings.MAIL_FROM },
  );
  try {
    await transport.sendMail({
      to: { name: '', address: to },
      subject,
      text,
      html,
      messageId: messageId(message.key, settings.WEB_ORIGIN),
      // RFC 3834: nobody's machine should answer.
      headers: { 'Auto-Submitted': 'auto-generated' },
    });
    return { how: 'sent' };
  } catch (error) {
    return outcomeOf(error as SmtpError, to);
  } finally {
    transport.close();
  }
}

interface SmtpError extends Error {
  /** What was said last. */
  readonly command?: string;
  readonly responseCode?: number;
  readonly code?: string;
}

/** The same for the same message, so that a mailbox can tell a second copy. RFC 5322 section 3.6.4. */
function messageId(key: string, origin: string): string {
  return `<${createHash('sha256').update(key).digest('hex').slice(0, 32)}@${new URL(origin).hostname}>`;
}

/** RFC 5321 section 4.2: 4yz may be tried again, 5yz not. Once the text was sent and no answer came, nobody knows. */
export function outcomeOf(error: SmtpError, to: string): Outcome {
  // What servers answer may repeat the address.
  const words = error.message.replaceAll(to, mask(to, 'ends'));
  if (error.responseCode !== undefined)
    return { how: error.responseCode >= 500 ? 'refused' : 'later', error: words };
  return { how: error.command === 'DATA' ? 'unclear' : 'later', error: words };
}
