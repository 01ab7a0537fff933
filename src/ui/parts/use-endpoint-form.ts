import { zodResolver } from '@hookform/resolvers/zod';
import {
  useForm,
  type DefaultValues,
  type FieldValues,
  type Path,
  type UseFormReturn,
} from 'react-hook-form';
import type { z } from 'zod';
import { RequestError } from '../desk/request-error.ts';

export interface EndpointForm<T extends FieldValues> {
  readonly form: UseFormReturn<T>;
  /** For the form element: checks, sends, and shows what was refused beside its field. */
  readonly submit: (e: React.FormEvent) => void;
  readonly busy: boolean;
  /** What is wrong with a field. */
  readonly error: (field: Path<T>) => string | undefined;
  /** What is wrong with the whole of it. */
  readonly refused: string | undefined;
}

/**
 * A form for an endpoint: checked here by the schema that the endpoint checks by, and again there. What it refuses stands
 * beside the field it names; what was typed stays.
 */
export function useEndpointForm<T extends FieldValues>(
  schema: z.ZodType<T, T>,
  values: DefaultValues<T>,
  send: (values: T) => Promise<void>,
): EndpointForm<T> {
  const form = useForm<T>({ resolver: zodResolver(schema), defaultValues: values, mode: 'onTouched' });
  const { errors, isSubmitting } = form.formState;
  const submit = form.handleSubmit(async (sent) => {
    try {
      await send(sent);
    } catch (e) {
      if (!(e instanceof RequestError)) throw e;
      const known = e.refusal.fields.filter((f) => Object.hasOwn(sent, f.field));
      for (const { field, message } of known) form.setError(field as Path<T>, { message });
      if (known.length === 0) form.setError('root', { message: e.message });
    }
  });
  return {
    form,
    submit: (e) => void submit(e),
    busy: isSubmitting,
    error: (field) => messageOf(errors[field]),
    refused: messageOf(errors.root),
  };
}

function messageOf(error: unknown): string | undefined {
  const message = (error as { message?: unknown } | undefined)?.message;
  return typeof message === 'string' ? message : undefined;
}
