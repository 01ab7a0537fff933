import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { accountLines } from './read-accounts.ts';
import { AclText } from './acl-text.ts';

const TEXT = `# file: /srv/port
# owner: 1001
# group: 2001
# flags: -s-
user::rwx
user:1002:rw-\t\t\t#effective:r--
group::r-x
mask::r-x
other::---
default:user::rwx
default:other::---

# file: /srv/port/odd\\012na\\\\me\\040
# owner: 0
# group: 0
user::rw-
group::r--
other::r--

`;

describe('the output of getfacl', () => {
  const whole = new AclText().next(TEXT, true);

  it('is read file by file, without what counts for what is made later', () => {
    expect(whole.map((f) => ({ ...f, path: f.path.toString('latin1') }))).toEqual([
      {
        ...{ path: '/srv/port', uid: 1001, gid: 2001 },
        acl: ['user::rwx', 'user:1002:rw-', 'group::r-x', 'mask::r-x', 'other::---'],
      },
      {
        ...{ path: '/srv/port/odd\nna\\me ', uid: 0, gid: 0 },
        acl: ['user::rw-', 'group::r--', 'other::r--'],
      },
    ]);
  });

  it('is the same wherever it is cut', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(TEXT.length), { maxLength: 5 }), (cuts) => {
        const text = new AclText();
        const at = [0, ...cuts.toSorted((a, b) => a - b), TEXT.length];
        const found = at.slice(1).flatMap((to, i) => text.next(TEXT.slice(at[i], to), i === at.length - 2));
        expect(found).toEqual(whole);
      }),
    );
  });
});

describe('accounts of a machine', () => {
  it('are people and groups by their numbers', () => {
    expect(
      accountLines(
        'root:x:0:0:root:/root:/bin/bash\ntove:x:1001:2001:Tove Lindqvist,Port,:/home/tove:/bin/sh\n\nbroken line\n',
        'root:x:0:\nclerks:x:2001:tove,amira\n',
      ),
    ).toMatchObject([
      { type: 'person', id: 'user root', uid: 0, gid: 0 },
      { type: 'person', id: 'user tove', name: 'Tove Lindqvist', uid: 1001, gid: 2001, state: 'open' },
      { type: 'group', id: 'group root', gid: 0, members: [] },
      { type: 'group', id: 'group clerks', gid: 2001, members: ['user tove', 'user amira'] },
    ]);
  });
});
