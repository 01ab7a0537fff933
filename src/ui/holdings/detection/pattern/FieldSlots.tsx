import type { Anchor } from '../../../../core/holdings/detection/detector/detector.ts';
import { bodyOfAlone } from '../../../../core/holdings/detection/pattern/pattern-example.ts';
import { shortCode } from '../../../parts/LongCode.tsx';
import { Slot } from '../../../parts/Slot.tsx';
import { LinesSlot } from './LinesSlot.tsx';
import { patternFault } from './slot-text.ts';

type FillingAnchor = Exclude<Anchor, { by: 'function' }>;

interface FieldSlotsProps<A> {
  readonly anchor: A;
  readonly fixed: boolean;
  readonly error: (field: string) => string | undefined;
  readonly set: (anchor: A) => void;
}

/** The fields and cells that a detector reads whole. */
export function FieldSlots<A extends FillingAnchor>({ anchor, fixed, error, set }: FieldSlotsProps<A>) {
  const { field, ...rest } = anchor;
  const written = anchor.pattern === undefined ? '.+' : (bodyOfAlone(anchor.pattern) ?? anchor.pattern);
  if (fixed && !field) return null;
  return (
    <>
      , or what fills a field or a cell under{' '}
      <LinesSlot
        label="Headings of fields that it fills"
        lines={field?.headings ?? []}
        none="no heading"
        error={error('anchor.field.headings')}
        fixed={fixed}
        hint="One heading a line; none where a field is read like any other text."
        set={(headings) =>
          set(
            headings.length === 0
              ? (rest as A)
              : { ...anchor, field: { headings, pattern: field?.pattern ?? written } },
          )
        }
      />
      {field && (
        <>
          {' '}
          and is all written like{' '}
          <Slot
            label="Pattern of what fills a field"
            code
            words={shortCode(field.pattern)}
            error={error('anchor.field.pattern')}
            fixed={fixed}
            edit={{
              kind: 'text',
              most: 12_000,
              value: field.pattern,
              hint: 'A regular expression (ECMAScript, Unicode) for the whole of it.',
              check: patternFault,
              set: (pattern) => set({ ...anchor, field: { ...field, pattern } }),
            }}
          />
        </>
      )}
    </>
  );
}
