import { go } from '../../desk/location.ts';
import { countWords } from '../../desk/words.ts';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { frameworkLink } from '../links.ts';
import { useFrameworks } from '../use-obligations.ts';

export function FrameworkRegister({ chosen }: { readonly chosen: string | undefined }) {
  const frameworks = useFrameworks();
  if (frameworks.isError && !frameworks.data)
    return <Failure error={frameworks.error} onRetry={() => void frameworks.refetch()} />;
  if (!frameworks.data) return <Loading what="the library" />;
  return (
    <RegisterList
      what="frameworks"
      rows={frameworks.data.map((f) => ({
        id: f.id,
        name: f.name,
        detail: `${countWords(f.controls, 'control')}${f.own ? ', our own' : f.whole ? '' : ', in part'}`,
        href: frameworkLink(f.id),
      }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      empty="The library is empty."
    />
  );
}
