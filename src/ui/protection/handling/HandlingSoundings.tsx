import { useMay } from '../../desk/account-context.ts';
import { countWords, daysAgo, numberWords, percentWords } from '../../desk/words.ts';
import { DayBars } from '../../parts/DayBars.tsx';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { UnitTable } from '../CountTable.tsx';
import { useHandlingOutlook, useHandlingRule } from './use-handling.ts';
import css from '../protection.module.css';

/** What the draft would have done over the last 30 days: how often, to whom, and how rightly. */
export function HandlingSoundings({ id }: { readonly id: string }) {
  const may = useMay('protection.activity');
  const rule = useHandlingRule(id);
  const outlook = useHandlingOutlook(id, may ? rule.data?.revision : undefined, 30);
  if (!may) return null;
  if (outlook.isError) return <Failure error={outlook.error} onRetry={() => void outlook.refetch()} />;
  const { data } = outlook;
  if (!data) return <Loading what="what it would have done" />;
  const held = data.record + data.ask + data.stop;
  return (
    <>
      <SoundingsSection title="Soundings · what it would have done">
        <FigureRow>
          {data.stop > 0 && (
            <Figure value={numberWords(data.stop)} words={`stopped in ${data.days} days`} mark />
          )}
          {(data.ask > 0 || held === 0) && (
            <Figure value={numberWords(data.ask)} words={`asked in ${data.days} days`} />
          )}
          {data.record > 0 && <Figure value={numberWords(data.record)} words="recorded" />}
          <Figure value={numberWords(data.people)} words={data.people === 1 ? 'person' : 'people'} />
          {data.falseAlarms > 0 && <Figure value={numberWords(data.falseAlarms)} words="false alarms" mark />}
        </FigureRow>
        <p className={css['note']}>Of {countWords(data.acts, 'act')} on these ways that were told.</p>
        {held > 0 && (
          <DayBars
            label="By day"
            unit="acts"
            days={data.byDay.map(({ day, acts }) => ({ day, count: acts }))}
            from={daysAgo(data.days)}
            to={daysAgo(0)}
          />
        )}
      </SoundingsSection>
      {data.against && (
        <SoundingsSection title="Against the version in force">
          <p>
            {data.against.gained === 0 && data.against.lost === 0 && data.against.other === 0
              ? 'The same acts, and the same done about them.'
              : `${signed(data.against.gained)} new, ${signed(-data.against.lost)} no more, ${numberWords(data.against.other)} otherwise.`}
          </p>
        </SoundingsSection>
      )}
      {data.byUnit.length > 0 && (
        <SoundingsSection title="Who, most often">
          <UnitTable label="Who, most often" units={data.byUnit} most={8} />
        </SoundingsSection>
      )}
      <SoundingsSection title="Right so far">
        <p>
          {data.right
            ? `${numberWords(data.confronted - data.falseAlarms)} of ${numberWords(data.confronted)} at which somebody was asked or stopped, ${percentWords(data.right.share, 1)}, interval ${percentWords(data.right.low, 1)} to ${percentWords(data.right.high, 1)}; the others were called false alarms.`
            : 'Nobody was asked or stopped yet at an act that it would hold for.'}
        </p>
      </SoundingsSection>
      <SoundingsSection title="Before it can be in force">
        <p>
          {data.inStep === data.devices ? '✓' : '◆'} {numberWords(data.inStep)} of{' '}
          {countWords(data.devices, 'device')} {data.devices === 1 ? 'is' : 'are'} in step
          {data.inStep < data.devices && (
            <>
              :{' '}
              <a href="/protection/devices?standing=behind">
                {numberWords(data.devices - data.inStep)} would not know it
              </a>
            </>
          )}
        </p>
        {data.unknownToDevices.length > 0 && (
          <p>
            <span className={css['mark']}>◆</span> Devices do not look for {data.unknownToDevices.join(', ')}:
            it needs data that stays here. Mail that passes the gateway is looked at with it.
          </p>
        )}
      </SoundingsSection>
    </>
  );
}

const signed = (n: number) => (n > 0 ? `+${numberWords(n)}` : n < 0 ? `−${numberWords(-n)}` : '0');
