import { z } from 'zod';
import { listShape } from '../../../core/lists/list-shape.ts';
import { DEVICE_LIST } from '../../../core/protection/devices/device-list.ts';
import { streamed } from '../../../server/http/csv.ts';
import { endpoint } from '../../../server/http/endpoint.ts';
import { listCsv } from '../../../server/lists/list-source.ts';
import { deviceCells, listDevices } from '../../../server/protection/devices/device-list.ts';

export const GET = endpoint({
  action: 'protection.read',
  input: z.object(listShape(DEVICE_LIST)),
  run: ({ ctx, input, outgoing }) => {
    const lines = listCsv(DEVICE_LIST, deviceCells, (after) => listDevices(ctx, input, after, 500));
    return Promise.resolve(streamed('devices.csv', 'text/csv; charset=utf-8', outgoing, lines));
  },
});
