import type { ComponentType } from 'react';
import type { Account } from '../../core/accounts/authority.ts';
import { AREAS } from '../areas.ts';

export type View = ComponentType<{ readonly account: Account }>;

const loaded = new Map<string, View>();

export function isArea(area: string | undefined): boolean {
  return AREAS.some((a) => a.area === area);
}

/** What an area shows, where it was loaded. */
export function viewOf(area: string): View | undefined {
  return loaded.get(area);
}

/** Loads what an area shows, once. Throws where it cannot be had, as after an upgrade of the server. */
export async function loadView(area: string): Promise<void> {
  if (loaded.has(area)) return;
  const view = await AREAS.find((a) => a.area === area)?.view();
  if (view) loaded.set(area, view);
}
