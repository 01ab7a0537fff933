import { useQuery } from '@tanstack/react-query';
import { DEVICE_LIST } from '../../../core/protection/devices/device-list.ts';
import type * as deviceGroupsApi from '../../../pages/api/protection/devices/groups.ts';
import type * as devicesApi from '../../../pages/api/protection/devices/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useMay } from '../../desk/account-context.ts';
import { go, setQuery } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { whenWords } from '../../desk/words.ts';
import { ListFilters } from '../../lists/ListFilters.tsx';
import { useList } from '../../lists/use-list.ts';
import { Button } from '../../parts/Button.tsx';
import { DataTable, type Column } from '../../parts/DataTable.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty } from '../../parts/states.tsx';
import { deviceLink } from '../links.ts';
import css from '../protection.module.css';

type Row = AnswerOf<typeof devicesApi.GET>['rows'][number];

export function useDeviceGroups() {
  return useQuery({
    queryKey: ['device-groups'],
    queryFn: () => request<AnswerOf<typeof deviceGroupsApi.GET>>('GET', '/api/protection/devices/groups'),
  });
}

/** Devices that tell what is done on them, and why some do not do what the rules say now. */
export function DevicesSheet() {
  const list = useList(DEVICE_LIST);
  const mayLet = useMay('protection.devices');
  const groups = useDeviceGroups();
  const columns: readonly Column<Row>[] = [
    { key: 'name', title: 'Device', cell: (d) => d.name },
    { key: 'person', title: 'Person', cell: (d) => d.person.split('@')[0] },
    { key: 'platform', title: 'Platform', optional: true, cell: (d) => d.platform },
    {
      ...{ key: 'seen', title: 'Last seen' },
      cell: (d) => (d.seenAt ? <time dateTime={d.seenAt}>{whenWords(d.seenAt)}</time> : 'never'),
    },
    { key: 'bundle', title: 'Rules', align: 'right', cell: (d) => d.bundle ?? '–' },
    {
      ...{ key: 'behind', title: 'In step' },
      cell: (d) =>
        d.endedAt ? (
          'out'
        ) : d.behind.length === 0 ? (
          '✓'
        ) : (
          <span className={css['mark']}>◆ {d.behind.join('; ')}</span>
        ),
    },
  ];
  return (
    <>
      <SheetHead
        title="Devices"
        detail="They take signed rules, decide by them, and tell what was done; also while they are offline"
        actions={
          mayLet && (
            <>
              <Button onClick={() => setQuery({ new: 'device-group' }, 'push')}>New group …</Button>
              <Button kind="primary" onClick={() => setQuery({ new: 'enrolment' }, 'push')}>
                Let devices in …
              </Button>
            </>
          )
        }
      />
      <DataTable
        label="Devices"
        name="devices"
        columns={columns}
        queryKey={['devices', list.asked]}
        load={(after) =>
          request<AnswerOf<typeof devicesApi.GET>>(
            'GET',
            `/api/protection/devices${queryString({ ...list.asked, after })}`,
          )
        }
        rowKey={(d) => String(d.id)}
        rowName={(d) => d.name}
        onOpen={(d) => go(deviceLink(d.id))}
        exportHref={list.exportHref('/api/protection/devices.csv')}
        filters={
          <ListFilters
            list={DEVICE_LIST}
            shown={list}
            values={{ group: (groups.data ?? []).map((g) => g.id) }}
            names={{ group: (id) => groups.data?.find((g) => g.id === id)?.name ?? id }}
            counts={{ group: Object.fromEntries((groups.data ?? []).map((g) => [g.id, g.devices])) }}
          />
        }
        empty={
          <Empty title={list.narrowed ? 'No device matches' : 'No device was let in yet'}>
            {list.narrowed ? 'Widen the filter.' : 'Press “Let devices in” for a token that does.'}
          </Empty>
        }
      />
    </>
  );
}
