import { useMutation } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { request } from '../../../desk/request.ts';
import { tell } from '../../../desk/toasts.ts';
import { countWords } from '../../../desk/words.ts';
import { Button } from '../../../parts/Button.tsx';
import { ProgressBar } from '../../../parts/states.tsx';
import { sendFile } from '../../send-file.ts';
import css from '../../holdings.module.css';

export function AddExamples({ id }: { readonly id: string }) {
  const [done, setDone] = useState<{ n: number; of: number }>();
  const [refused, setRefused] = useState<readonly string[]>([]);
  const add = useMutation({
    mutationFn: async ({ files, role }: { files: readonly File[]; role: string }) => {
      setRefused([]);
      const failed: string[] = [];
      for (const [n, file] of files.entries()) {
        setDone({ n, of: files.length });
        try {
          const upload = await sendFile(file);
          await request('POST', `/api/holdings/detectors/${id}/texts`, { role, of: { upload } });
        } catch (e) {
          failed.push(`${file.name}: ${(e as Error).message}`);
        }
      }
      setRefused(failed);
      return files.length - failed.length;
    },
    onSuccess: (n) => tell(`${countWords(n, 'text')} added.`),
    onSettled: async () => {
      setDone(undefined);
    },
  });
  return (
    <>
      <div className={css['acts']}>
        <Files
          label="Examples"
          words="Add examples"
          busy={add.isPending}
          take={(files) => add.mutate({ files, role: 'example' })}
        />
        <Files
          label="Counter-examples"
          words="Add counter-examples"
          busy={add.isPending}
          take={(files) => add.mutate({ files, role: 'counter-example' })}
        />
      </div>
      {done && (
        <ProgressBar label="Adding texts" share={done.n / done.of} words={`${done.n} of ${done.of} read`} />
      )}
      {refused.length > 0 && (
        <ul className={css['problems']}>
          {refused.slice(0, 20).map((r) => (
            <li key={r}>◆ {r}</li>
          ))}
        </ul>
      )}
    </>
  );
}

export function Files({
  label,
  words,
  busy,
  take,
}: {
  readonly label: string;
  readonly words: string;
  readonly busy: boolean;
  readonly take: (files: readonly File[]) => void;
}) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={input}
        type="file"
        multiple
        hidden
        aria-label={label}
        onChange={(e) => {
          const files = [...(e.target.files ?? [])];
          e.target.value = '';
          if (files.length > 0) take(files);
        }}
      />
      <Button busy={busy} onClick={() => input.current?.click()}>
        {words}
      </Button>
    </>
  );
}
