import { useMay } from '../../desk/account-context.ts';
import { ACTIVITY, DEVICES } from '../links.ts';

/** Whose acts were counted together: a person, a device or everybody; with the way to what they did. */
export function KeyLink({ of }: { readonly of: string }) {
  const maySee = useMay('protection.activity');
  const device = /^device (\d+)$/.exec(of)?.[1];
  if (of === 'everybody') return <>everybody together</>;
  if (device !== undefined) return <a href={`${DEVICES}/${device}`}>device {device}</a>;
  const name = of.split('@')[0] ?? of;
  return maySee ? (
    <a href={`${ACTIVITY}?person=${encodeURIComponent(of)}`} title={`All that ${of} did`}>
      {name}
    </a>
  ) : (
    <span title={of}>{name}</span>
  );
}
