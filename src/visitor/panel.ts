/** What a page needs only once the notice is shown, something held is told of, or something is withdrawn. */
export { NoticePanel } from './notice.ts';
export { Placeholders } from './placeholder.ts';
export { deleteKept } from './leftovers.ts';
