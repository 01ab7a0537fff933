/** People of the ferry line as whom the office is used; the last has an account of the desk too. */
export const CLERKS = [
  { name: 'Ida Kjær', group: 'Terminal Halmsund', address: 'ida.kjaer.halmsund@brindlestrait.example' },
  { name: 'Gustav Berg', group: 'Payroll', address: 'gustav.berg.payroll@brindlestrait.example' },
  { name: 'Clara Dahl', group: 'Trainees', address: 'clara.dahl.trainee@brindlestrait.example' },
  { name: 'Lotte Bruun', group: 'Passenger care', address: 'lotte.bruun@brindlestrait.example' },
] as const;
