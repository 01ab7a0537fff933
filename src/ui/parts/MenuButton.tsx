import { Button, Menu, MenuItem, MenuTrigger, Popover } from 'react-aria-components';
import css from './MenuButton.module.css';

export interface MenuAct {
  readonly id: string;
  /** What will happen. */
  readonly words: string;
  readonly act: () => void;
  /** Why it cannot be done now. */
  readonly why?: string;
}

/** More that can be done with something, behind one button. */
export function MenuButton({
  label,
  of,
  acts,
}: {
  readonly label: string;
  /** What it is about, where several stand in a list. */
  readonly of?: string;
  readonly acts: readonly MenuAct[];
}) {
  return (
    <MenuTrigger>
      <Button className={css['button'] ?? ''} aria-label={of ? `${label}: ${of}` : label}>
        {label}
      </Button>
      <Popover className={css['panel'] ?? ''} placement="bottom end">
        <Menu
          aria-label={label}
          disabledKeys={acts.filter((a) => a.why).map((a) => a.id)}
          onAction={(id) => acts.find((a) => a.id === id)?.act()}
          className={css['menu'] ?? ''}
        >
          {acts.map((a) => (
            <MenuItem key={a.id} id={a.id} textValue={a.words} className={css['item'] ?? ''}>
              {a.words}
              {a.why && <small>{a.why}</small>}
            </MenuItem>
          ))}
        </Menu>
      </Popover>
    </MenuTrigger>
  );
}
