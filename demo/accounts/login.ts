import { newProvider } from '../../src/core/accounts/sign-on/provider.ts';
import { sealText } from '../../src/server/secret.ts';
import { toDatetime } from '../../src/server/store/columns.ts';
import { LOGIN_CLIENT, LOGIN_HOST } from '../../standins/login/people.ts';
import { standinToken } from '../../standins/token.ts';
import type { Demo } from '../demo.ts';

/** The login of the ferry line, whose groups give roles: a newcomer to Audit gets an account by it. */
export async function demoLogin(demo: Demo): Promise<void> {
  const { ctx, tx } = demo;
  const { SECRET_KEY, STANDIN_PORT } = ctx.settings;
  const content = {
    ...newProvider('Brindle Strait login', LOGIN_CLIENT),
    newcomers: 'made',
    groups: { Audit: ['auditor'], 'Data stewards': ['data steward'], 'Web team': ['site manager'] },
  };
  await tx.run('INSERT INTO identity_provider (name, issuer, client_secret, content, made_at) VALUES (?)', [
    [
      ...[content.name, `http://${LOGIN_HOST}:${STANDIN_PORT}`],
      ...[sealText(SECRET_KEY, standinToken(SECRET_KEY, 'login')), JSON.stringify(content)],
      toDatetime(demo.at(40)),
    ],
  ]);
}
