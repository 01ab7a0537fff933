import { guideLink } from '../../core/desk/guide.ts';
import { Dialog } from '../parts/Dialog.tsx';
import type { Key } from './keys.ts';
import css from './KeysHelp.module.css';

const EVERYWHERE: readonly { press: string; does: string }[] = [
  { press: 'Tab', does: 'Go to the next control' },
  { press: '↑ ↓', does: 'Move in a list, a table or an open slot' },
  { press: 'Space', does: 'Select the row' },
  { press: 'Enter', does: 'Open the row or the slot' },
  { press: 'Esc', does: 'Close what is open' },
];

/** The keys of the screen at hand, and the way to its page of the guide. */
export function KeysHelp({
  area,
  keys,
  onClose,
}: {
  readonly area: string;
  readonly keys: readonly Key[];
  readonly onClose: () => void;
}) {
  return (
    <Dialog title="Keys of this screen" onClose={onClose}>
      <p>
        <a href={guideLink(area)}>Read about it in the guide</a>
      </p>
      <dl className={css['keys']}>
        {[...keys, ...EVERYWHERE].map((k) => (
          <div key={k.press}>
            <dt>
              <kbd>{k.press}</kbd>
            </dt>
            <dd>{k.does}</dd>
          </div>
        ))}
      </dl>
    </Dialog>
  );
}
