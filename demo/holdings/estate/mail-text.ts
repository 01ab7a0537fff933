import type { Mail } from './papers.ts';

/** A message as a mail server keeps it (RFC 5322). */
export function mailText({ from, to, subject, body, attachment }: Mail, at: Date): string {
  const head = `From: ${encoded(from)}\nTo: ${to}\nSubject: ${subject}\nDate: ${at.toUTCString()}\nMessage-ID: <${at.getTime()}@mail.example>\nMIME-Version: 1.0\n`;
  if (!attachment)
    return `${head}Content-Type: text/plain; charset=utf-8\nContent-Transfer-Encoding: 8bit\n\n${body}`;
  const mark = 'part-of-this-mail';
  return `${head}Content-Type: multipart/mixed; boundary="${mark}"\n\n--${mark}\nContent-Type: text/plain; charset=utf-8\n\n${body}\n--${mark}\nContent-Type: text/csv; charset=utf-8; name="${attachment.name}"\nContent-Disposition: attachment; filename="${attachment.name}"\nContent-Transfer-Encoding: base64\n\n${Buffer.from(
    attachment.text,
  )
    .toString('base64')
    .replace(/(.{76})/g, '$1\n')}\n--${mark}--\n`;
}

function encoded(from: string): string {
  const [, name = '', address = ''] = /^(.*) <(.*)>$/.exec(from) ?? [];
  return `=?utf-8?B?${Buffer.from(name).toString('base64')}?= <${address}>`;
}
