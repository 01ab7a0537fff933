import { countWords } from '../../desk/words.ts';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { DOSSIERS, type DossierWhat } from '../links.ts';
import { Questionnaires } from '../vendors/Questionnaires.tsx';
import { DossierTable } from './DossierRegister.tsx';
import { useDossiers } from './use-dossiers.ts';

const ABOUT: Readonly<Record<DossierWhat, string>> = {
  impact:
    'Before something new is done with data: is an assessment needed, which risks remain, who approves? (GDPR Art. 35)',
  vendors:
    'Who works for us, with which data, on which contract, and what came since we looked? (GDPR Art. 28)',
  ai: 'Which machines learn or decide, what may they do, and what follows from it? (Regulation (EU) 2024/1689)',
};

/** All of a kind, at a glance. */
export function DossiersSheet({ what }: { readonly what: DossierWhat }) {
  const all = useDossiers(what);
  if (all.isError && !all.data) return <Failure error={all.error} onRetry={() => void all.refetch()} />;
  if (!all.data) return <Loading what={DOSSIERS[what].several} />;
  return (
    <>
      <SheetHead
        title={DOSSIERS[what].many}
        detail={`${countWords(all.data.length, DOSSIERS[what].one)} · ${ABOUT[what]}`}
        actions={
          <a href={`/api/cases/register.csv?what=${what}`} download>
            Export the register
          </a>
        }
      />
      {all.data.length === 0 ? (
        <Empty title="None yet">Press N to begin one.</Empty>
      ) : (
        <DossierTable what={what} />
      )}
      {what === 'vendors' && <Questionnaires />}
    </>
  );
}
