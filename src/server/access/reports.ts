import { EVENT_LIST } from '../../core/access/history/event-list.ts';
import { listReportable, type Reportable } from '../reports/reportable.ts';
import { eventCells, listEvents } from './history/access-events.ts';

export const ACCESS_REPORTS: readonly Reportable[] = [
  listReportable({ id: 'access.events', name: 'Changes of access', see: 'access.read' }, EVENT_LIST, (ctx) =>
    Promise.resolve({
      cells: eventCells,
      load: (wish, after, size) => listEvents(ctx, wish, after, size),
    }),
  ),
];
