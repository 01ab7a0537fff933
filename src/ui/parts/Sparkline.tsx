import { extent } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { line } from 'd3-shape';
import css from './Sparkline.module.css';

const [WIDTH, HEIGHT] = [84, 24];
const PAD = 2;

/** How something went, beside its number; `label` says it in words. */
export function Sparkline({ values, label }: { readonly values: readonly number[]; readonly label: string }) {
  if (values.length < 2) return <span className={css['none']} />;
  const [low = 0, high = 0] = extent(values);
  const x = scaleLinear([0, values.length - 1], [PAD, WIDTH - PAD]);
  // What never changed runs along the middle.
  const y = scaleLinear(low === high ? [low - 1, high + 1] : [low, high], [HEIGHT - PAD, PAD]);
  const path = line<number>(
    (_, i) => x(i),
    (v) => y(v),
  )([...values]);
  return (
    <svg className={css['line']} role="img" aria-label={label} viewBox={`0 0 ${WIDTH} ${HEIGHT}`}>
      <path d={path ?? ''} />
    </svg>
  );
}
