import { EVENT_LIST } from '../../core/protection/activity/event-list.ts';
import { ALERT_LIST } from '../../core/protection/alerts/alert-list.ts';
import { DEVICE_LIST } from '../../core/protection/devices/device-list.ts';
import { listReportable, type Reportable } from '../reports/reportable.ts';
import { eventCells, listEvents } from './activity/events.ts';
import { alertCells, listAlerts } from './alerts/alerts.ts';
import { deviceCells, listDevices } from './devices/device-list.ts';

export const PROTECTION_REPORTS: readonly Reportable[] = [
  listReportable(
    { id: 'protection.activity', name: 'What people did with data', see: 'protection.activity' },
    EVENT_LIST,
    ({ store }) =>
      Promise.resolve({
        cells: eventCells,
        load: (wish, after, size) => listEvents(store, wish, after, size),
      }),
  ),
  listReportable(
    { id: 'protection.alerts', name: 'Alerts', see: 'protection.alerts' },
    ALERT_LIST,
    ({ store }) =>
      Promise.resolve({
        cells: alertCells,
        load: (wish, after, size) => listAlerts(store, wish, after, size),
      }),
  ),
  listReportable({ id: 'protection.devices', name: 'Devices', see: 'protection.read' }, DEVICE_LIST, (ctx) =>
    Promise.resolve({
      cells: deviceCells,
      load: (wish, after, size) => listDevices(ctx, wish, after, size),
    }),
  ),
];
