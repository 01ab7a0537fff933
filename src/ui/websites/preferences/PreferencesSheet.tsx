import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { useMay } from '../../desk/account-context.ts';
import { countWords } from '../../desk/words.ts';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { Tabs } from '../../parts/Tabs.tsx';
import { BeginPage } from './BeginPage.tsx';
import { MailingTools } from './MailingTools.tsx';
import { PeopleTab } from './PeopleTab.tsx';
import { PreferencePageTab } from './PreferencePageTab.tsx';
import { usePreferences } from './use-preferences.ts';

const TABS = [
  { id: 'people', name: 'People' },
  { id: 'page', name: 'Page' },
  { id: 'tools', name: 'Mailing tools' },
] as const;
type PreferenceTab = (typeof TABS)[number]['id'];

/** How and about what people may be written to: by their own page, on record, and told to what writes to them. */
export function PreferencesSheet() {
  const { query } = useDeskLocation();
  const mayEdit = useMay('preferences.edit');
  const preferences = usePreferences();
  if (preferences.isError)
    return <Failure error={preferences.error} onRetry={() => void preferences.refetch()} />;
  if (!preferences.data) return <Loading what="the preferences" />;
  const { begun, figures } = preferences.data;
  if (!begun) return <BeginPage mayEdit={mayEdit} />;
  const asked = query.get('tab');
  const tab: PreferenceTab = TABS.find((t) => t.id === asked)?.id ?? 'people';
  const all = Object.values(figures.stands).reduce((n, s) => n + s, 0);
  return (
    <>
      <SheetHead
        title="Preferences"
        detail={`${countWords(all, 'person', 'people')} · how and about what they may be written to, as they said by their own page`}
      />
      <Tabs
        label="Of preferences"
        tabs={TABS}
        chosen={tab}
        onChoose={(t) => setQuery({ tab: t === 'people' ? null : t, person: null }, 'push')}
      />
      <div role="tabpanel" id="tabpanel" aria-labelledby={`tab-${tab}`}>
        {tab === 'people' ? <PeopleTab /> : tab === 'page' ? <PreferencePageTab /> : <MailingTools />}
      </div>
    </>
  );
}
