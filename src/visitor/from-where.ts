import type { FromWhere } from '../core/websites/notice/from-where.ts';

/** The kind of device by its window and its pointer, and the first part of the path, unless that looks like somebody's own. */
export function fromWhere(window: Window): FromWhere {
  const { innerWidth, location } = window;
  const touch = window.matchMedia('(pointer: coarse)').matches;
  const device = touch || innerWidth < 600 ? (innerWidth < 600 ? 'phone' : 'tablet') : 'desktop';
  const [, first = ''] = location.pathname.split('/');
  return { device, page: /^[a-z][a-z_.~-]{0,30}$/i.test(first) ? first.toLowerCase() : '' };
}
