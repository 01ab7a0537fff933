import { useState } from 'react';
import { RequestError } from '../desk/request-error.ts';
import { tellFailure } from '../desk/toasts.ts';

export interface Sending {
  readonly busy: boolean;
  /** What was refused the last time; what else fails is told in passing. */
  readonly refused: RequestError | undefined;
  readonly send: (work: () => Promise<void>) => Promise<void>;
  /** What is wrong with a field, by any of the names that the endpoint has for it. */
  readonly error: (...fields: readonly string[]) => string | undefined;
}

/** For a form whose fields are not known beforehand: sends, and keeps what was refused to show it beside its field. */
export function useSending(): Sending {
  const [busy, setBusy] = useState(false);
  const [refused, setRefused] = useState<RequestError>();
  return {
    busy,
    refused,
    error: (...fields) => refused?.field(...fields),
    send: async (work) => {
      setBusy(true);
      setRefused(undefined);
      try {
        await work();
      } catch (failure) {
        if (failure instanceof RequestError) setRefused(failure);
        else tellFailure(failure);
      } finally {
        setBusy(false);
      }
    },
  };
}
