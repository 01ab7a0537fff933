import { lensText } from '../../core/lens/lens-text.ts';
import type { Reportable } from '../reports/reportable.ts';
import { readLens } from './items/explorer.ts';
import { ITEM_COLUMNS, itemLines } from './items/item-export.ts';

export const HOLDINGS_REPORTS: readonly Reportable[] = [
  {
    id: 'holdings.items',
    name: 'Items in a lens',
    see: 'holdings.read',
    takes: ['lens'],
    about: ({ lens }) => [lens === '' ? 'Everything.' : `Items of the lens: ${lensText(readLens(lens))}`],
    async *rows(ctx, account, { lens }) {
      yield ITEM_COLUMNS;
      yield* itemLines(ctx, account, { lens, order: 'people' });
    },
  },
];
