/** What a page needs only once the notice is shown, something held is told of, or something is withdrawn. */
export { NoticePanel } from './notice.ts';
export { placeholdersIn } from './placeholder.ts';
export { deleteKept, keptByHolds } from './leftovers.ts';
export { Sender } from './sender.ts';
export { UnsentChoices } from './unsent.ts';
