import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { userInfo } from 'node:os';
import { startServer, type ServerProcess } from './server-process.ts';

/**
 * An IMAP server of the tests' own, with one mailbox in `folder/mail`; where it is `shared`, with one for everybody who
 * knows the password, whose folders can be shared with others.
 */
export function startDovecot(
  folder: string,
  port: number,
  user: string,
  password: string,
  shared = false,
): Promise<ServerProcess> {
  const root = process.getuid?.() === 0;
  const { username, uid, gid } = root ? { username: 'nobody', uid: 65534, gid: 65534 } : userInfo();
  for (const f of ['run', 'state', 'mail']) mkdirSync(join(folder, f), { recursive: true });
  const config = join(folder, 'dovecot.conf');
  writeFileSync(
    config,
    `base_dir = ${folder}/run
state_dir = ${folder}/state
log_path = ${folder}/log
protocols = imap
listen = 127.0.0.1
ssl = no
disable_plaintext_auth = no
auth_mechanisms = plain login
mail_location = maildir:${folder}/mail${shared ? '/%u' : ''}
${shared ? SHARING(folder) : ''}first_valid_uid = 0
${root ? '' : `default_internal_user = ${username}\ndefault_login_user = ${username}\n`}
passdb {
  driver = static
  args = ${shared ? '' : `user=${user} `}password=${password}
}
userdb {
  driver = static
  args = uid=${uid} gid=${gid} home=${folder}/mail${shared ? '/%u' : ''}
}
namespace inbox {
  inbox = yes
  ${shared ? 'separator = /' : ''}
}
service imap-login {
  inet_listener imap {
    port = ${port}
  }
  inet_listener imaps {
    port = 0
  }
  ${root ? '' : 'chroot ='}
}
service anvil {
  ${root ? '' : 'chroot ='}
}
`,
  );
  return startServer('/usr/sbin/dovecot', ['-F', '-c', config], port);
}

const SHARING = (folder: string) => `mail_plugins = acl
protocol imap {
  mail_plugins = acl imap_acl
}
plugin {
  acl = vfile
  acl_anyone = allow
  acl_shared_dict = file:${folder}/shared.db
}
namespace {
  type = shared
  separator = /
  prefix = shared/%%u/
  location = maildir:${folder}/mail/%%u
  subscriptions = no
  list = children
}
`;
