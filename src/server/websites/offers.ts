// What other areas may use of this one.
export { erasePersonRecords, recordsOfPerson, type OwnRecord } from './preferences/records-of-person.ts';
export { siteNames } from './sites/site-names.ts';
export { linkedTrackers } from './trackers/linked-trackers.ts';
