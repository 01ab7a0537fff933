import type { Each } from '../../figures/count-figure.ts';

/** Of items `i` that are counted: those of one source are a row. */
export const EACH_SOURCE_OF_ITEMS: Each = {
  byKey: true,
  key: 'i.source_id',
  name: '(SELECT name FROM source WHERE id = g.row_key)',
  parts: {
    source: '(SELECT name FROM source WHERE id = g.row_key)',
    system: '(SELECT y.name FROM source s JOIN data_system y ON y.id = s.system_id WHERE s.id = g.row_key)',
  },
  link: ({ key }) => `/holdings/sources/${key}`,
};
