import css from './ChartHead.module.css';

/** The question a chart answers, and the way to read it as a table and back. */
export function ChartHead({
  label,
  unit,
  drawn,
  asTable,
  onTable,
}: {
  readonly label: string;
  readonly unit?: string;
  /** What it is drawn as: `a chart`. */
  readonly drawn: string;
  readonly asTable: boolean;
  readonly onTable: (asTable: boolean) => void;
}) {
  return (
    <figcaption className={css['head']}>
      {label} {unit && <span className={css['unit']}>{unit}</span>}
      <button type="button" className={css['as']} onClick={() => onTable(!asTable)}>
        {asTable ? `Show as ${drawn}` : 'Read as a table'}
      </button>
    </figcaption>
  );
}
