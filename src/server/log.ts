import pino from 'pino';

/** Structured lines without personal data: ids, counts, codes. */
export const log = pino({
  level: process.env['LOG_LEVEL'] ?? 'info',
  base: { process: process.env['YARE_PROCESS'] ?? 'yare' },
  redact: ['*.password', '*.cookie', '*.address', '*.email'],
});
