import { addAccount, hashPassword } from '../../src/server/accounts/account.ts';
import { writeStaff } from '../../src/server/accounts/staff/staff.ts';
import type { Demo, DemoArea } from '../demo.ts';
import { emailOf, PEOPLE } from './people.ts';
import { demoLogin } from './login.ts';
import { demoRoles } from './roles.ts';
import { demoStaff } from './staff.ts';

export const DEMO_PASSWORD = 'five ships, four ports';

export const ACCOUNTS: DemoArea = { area: 'accounts', load };

async function load(demo: Demo): Promise<void> {
  const { tx, people, now } = demo;
  const passwordHash = await hashPassword(DEMO_PASSWORD);
  for (const p of PEOPLE)
    people.set(p.name, await addAccount(tx, { ...p, email: emailOf(p.name), passwordHash }));
  await demoRoles(demo);
  await demoLogin(demo);
  // The directory is a day behind.
  await writeStaff(tx, new Date(now.getTime() - 86_400_000), null, demoStaff(now));
}
