import { zeroBits } from '../../core/cases/requests/form/work-proof.ts';

/**
 * What a browser does quietly while somebody writes in a form that needs no account: it costs a moment, and whoever sends
 * thousands an hour.
 */
export function workOn(form: HTMLFormElement | null): void {
  const field = (name: string) => form?.querySelector<HTMLInputElement>(`[name=${name}]`);
  const [seed, work] = [field('seed')?.value ?? '', field('work')];
  if (!form || !work) return;
  const solve = async () => {
    if (!('subtle' in crypto)) return;
    const encoder = new TextEncoder();
    const bits = Number(form.dataset['bits']);
    for (let n = 0; work.value === ''; n++) {
      const digest = await crypto.subtle.digest('SHA-256', encoder.encode(`${seed} ${n}`));
      if (zeroBits(new Uint8Array(digest)) >= bits) work.value = String(n);
    }
  };
  const solved = solve();
  form.addEventListener('submit', (event) => {
    if (work.value !== '' || !('subtle' in crypto)) return;
    event.preventDefault();
    void solved.then(() => form.submit());
  });
}
