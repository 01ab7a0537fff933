import { useSending } from './use-sending.ts';
import { DialogForm } from './DialogForm.tsx';

/** Asks before something goes that cannot be put back; `lost` names what, as a sentence. */
export function RemoveDialog({
  name,
  lost,
  verb = 'Remove',
  onRemove,
  onClose,
}: {
  readonly name: string;
  readonly lost: string;
  readonly verb?: string;
  readonly onRemove: () => Promise<void>;
  readonly onClose: () => void;
}) {
  const { busy, refused, send } = useSending();
  return (
    <DialogForm
      title={`${verb} ${name}?`}
      onClose={onClose}
      onSubmit={() => send(onRemove)}
      act={`${verb} it`}
      busy={busy}
      refused={refused?.message}
    >
      <p>{lost} This cannot be undone.</p>
    </DialogForm>
  );
}
