import type { Context } from '../../context.ts';
import { findSource, openRights, SourceError } from '../../holdings/offers.ts';
import { openText } from '../../secret.ts';
import { uploadOf, type AccessSource } from '../sources/access-sources.ts';
import { databaseReader } from './database.ts';
import { estateFileReader } from './estate-file.ts';
import { folderReader } from './folder.ts';
import { ldapReader } from './ldap.ts';
import { TokenServer } from './http-reader.ts';
import { libraryReader } from './library.ts';
import { mailboxReader } from './mailbox.ts';
import { ReaderError, type AccessReader } from './reader.ts';
import { scimReader } from './scim.ts';
import { staffListReader } from './staff-list.ts';

/** Throws a ReaderError for a source that may not be read, or cannot be reached. */
export async function openReader(ctx: Context, source: AccessSource): Promise<AccessReader> {
  const { address } = source;
  const secret = source.secret === null ? '' : openText(ctx.settings.SECRET_KEY, source.secret);
  switch (address.kind) {
    case 'staff list':
      return staffListReader(ctx.store);
    case 'scim':
      return scimReader(await TokenServer.at(ctx.settings, address.url, secret));
    case 'library':
      return libraryReader(await TokenServer.at(ctx.settings, address.url, secret));
    case 'estate file': {
      const upload = await uploadOf(ctx.store, source.id);
      if (!upload) throw new ReaderError('No file was taken in yet.');
      return estateFileReader(upload);
    }
    case 'ldap':
      return ldapReader(ctx.settings, address, secret);
    case 'folder':
    case 'database':
    case 'mailbox': {
      const holdings = await findSource(ctx.store, address.source);
      try {
        const opened = await openRights(ctx, holdings);
        switch (opened.kind) {
          case 'folder':
            return folderReader(opened.root, holdings);
          case 'imap':
            return mailboxReader(opened, holdings);
          default:
            return databaseReader(opened, holdings);
        }
      } catch (error) {
        if (error instanceof SourceError) throw new ReaderError(error.message);
        throw error;
      }
    }
  }
}
