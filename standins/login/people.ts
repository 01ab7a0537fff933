/** Where people of the made-up ferry line sign on, and as what it knows the desk. */
export const LOGIN_HOST = 'login.localhost';
export const LOGIN_CLIENT = 'yare-warden';

/** Somebody as the made-up ferry line's login knows them. */
export type LoginPerson = {
  readonly sub: string;
  readonly name: string;
  readonly email: string;
  readonly title: string;
  readonly groups: readonly string[];
};

const person = (name: string, title: string, ...groups: string[]): LoginPerson => {
  const local = name.toLowerCase().replace(' ', '.');
  return { sub: `bsf-${local}`, name, email: `${local}@brindlestrait.example`, title, groups };
};

export const LOGIN_PEOPLE: readonly LoginPerson[] = [
  person('Ines Abara', 'Privacy officer', 'Privacy office', 'Shore staff'),
  person('Priya Nand', 'Web and marketing', 'Web team', 'Shore staff'),
  person('Tove Lindqvist', 'Port operations', 'Data stewards', 'Shore staff'),
  person('Osei Darko', 'Crew and payroll', 'Data stewards', 'Shore staff'),
  person('Emil Varga', 'Internal audit', 'Audit', 'Shore staff'),
  // They have no account at first: a group of the one gives a role, none of the other does.
  person('Freja Holm', 'Internal audit', 'Audit', 'Shore staff'),
  person('Jonas Falk', 'Deck', 'Crew'),
];
