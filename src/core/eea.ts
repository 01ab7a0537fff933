/** The European Economic Area, by ISO 3166-1. */
export const EEA: readonly string[] =
  'AT BE BG HR CY CZ DK EE FI FR DE GR HU IS IE IT LV LI LT LU MT NL NO PL PT RO SK SI ES SE'.split(' ');
