import type { BuiltInRole } from '../../src/core/accounts/roles/built-in-role.ts';

interface Person {
  readonly name: string;
  readonly title: string;
  readonly role: BuiltInRole;
}

/** The office of the made-up ferry line. */
export const PEOPLE: readonly Person[] = [
  { name: 'Ines Abara', title: 'Privacy officer', role: 'officer' },
  { name: 'Priya Nand', title: 'Web and marketing', role: 'site manager' },
  { name: 'Tove Lindqvist', title: 'Port operations', role: 'data steward' },
  { name: 'Osei Darko', title: 'Crew and payroll', role: 'data steward' },
  { name: 'Magnus Reyer', title: 'IT and shares', role: 'access reviewer' },
  { name: 'Lotte Bruun', title: 'Passenger care', role: 'request handler' },
  { name: 'Sanne Holt', title: 'Records', role: 'records manager' },
  { name: 'Emil Varga', title: 'Internal audit', role: 'auditor' },
];

export function emailOf(name: string): string {
  return `${name.toLowerCase().replace(' ', '.')}@brindlestrait.example`;
}
