import {
  Autocomplete,
  Input,
  Label,
  ListBox,
  ListBoxItem,
  SearchField,
  Text,
  useFilter,
} from 'react-aria-components';
import css from './PeoplePicker.module.css';

export interface Person {
  readonly id: number;
  readonly name: string;
  /** What they are here. */
  readonly title: string;
  readonly role: string;
  /** Why they cannot be chosen; '' where they can. */
  readonly why?: string;
}

interface PeoplePickerProps {
  readonly label: string;
  readonly people: readonly Person[];
  readonly chosen: readonly number[];
  readonly onChange: (ids: readonly number[]) => void;
  readonly error?: string | undefined;
}

/** People to choose from, several at once: type to filter, arrows to move, Space or Enter to take in or out. */
export function PeoplePicker({ label, people, chosen, onChange, error }: PeoplePickerProps) {
  const { contains } = useFilter({ sensitivity: 'base' });
  const names = people.filter((p) => chosen.includes(p.id)).map((p) => p.name);
  return (
    <div className={css['picker']} data-wrong={error ? true : undefined}>
      <Autocomplete filter={contains}>
        <SearchField aria-label={label} className={css['search'] ?? ''}>
          <Label className={css['label'] ?? ''}>{label}</Label>
          <Input placeholder="Type a name, a title or a role" className={css['input'] ?? ''} />
        </SearchField>
        <ListBox
          aria-label={label}
          items={people}
          selectionMode="multiple"
          selectedKeys={chosen}
          disabledKeys={people.filter((p) => p.why).map((p) => p.id)}
          onSelectionChange={(keys) =>
            onChange(keys === 'all' ? people.filter((p) => !p.why).map((p) => p.id) : [...keys].map(Number))
          }
          className={css['list'] ?? ''}
          renderEmptyState={() => <p className={css['none']}>Nobody is called that.</p>}
        >
          {(p) => (
            <ListBoxItem
              id={p.id}
              textValue={`${p.name} ${p.title} ${p.role}`}
              className={css['person'] ?? ''}
            >
              {({ isSelected }) => (
                <>
                  <span aria-hidden className={css['tick']}>
                    {isSelected ? '✓' : ''}
                  </span>
                  <Text slot="label">{p.name}</Text>
                  <Text slot="description" className={css['detail'] ?? ''}>
                    {p.why ? `${p.title || p.role} · ${p.why}` : p.title || p.role}
                  </Text>
                </>
              )}
            </ListBoxItem>
          )}
        </ListBox>
      </Autocomplete>
      <p className={error ? css['error'] : css['chosen']} role="status">
        {error ? `◆ ${error}` : names.length > 0 ? `Chosen: ${names.join(', ')}` : 'Nobody is chosen yet.'}
      </p>
    </div>
  );
}
