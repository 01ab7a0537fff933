import { builtInDetectors, Engine } from '../../src/core/holdings/offers.ts';
import {
  CHANNEL_WORDS,
  CHANNELS,
  type Channel,
  type MotionAct,
} from '../../src/core/protection/handling/channel.ts';
import { Agent, type AgentState } from './agent.ts';

const KEPT = 'yare-device';
const ACT: Readonly<Record<Channel, MotionAct>> = {
  ...{ 'removable drive': 'copy', 'network share': 'copy', printer: 'print', clipboard: 'copy' },
  ...{
    'remote session': 'copy',
    'short range': 'send',
    mail: 'send',
    'web form': 'paste',
    'AI assistant': 'paste',
  },
};
/** Where each way leads on this device; what leads to no place has none. */
const PLACES: Readonly<Record<Channel, readonly string[]>> = {
  'removable drive': ['Kaltdrive BR-12', 'Noname 8F21'],
  'network share': ['//port/boarding/2026', '//elsewhere/drop'],
  printer: ['Halmsund 2nd floor', 'Hotel lobby'],
  clipboard: [],
  'remote session': ['desk.brindlestrait.example', 'help.elsewhere.example'],
  'short range': [],
  mail: ['office@brindlestrait.example', 'me@postbag.example', 'desk@customs.halmsund.example'],
  'web form': ['https://paylock.example/pay', 'https://forms.harbour-club.example/join'],
  'AI assistant': ['https://askharbour.example/'],
};
const MOVED = 'yare-device-moved';
const FILES: Readonly<Record<string, string>> = {
  'cards.txt': 'Booking 4471, card 4111 1111 1111 1111\nBooking 4472, card 5500 0055 5555 5559\n',
  'boarding-list.txt': Array.from({ length: 14 }, (_, i) => `guest${i + 1}@mail.example, seat ${i + 1}`).join(
    '\n',
  ),
  'timetable.txt': 'Halmsund 06:40, Østervig 08:55, Kaltenhagen 12:10.',
};
const LANGUAGES: Readonly<Record<string, string>> = {
  en: 'English',
  da: 'Dansk',
  sv: 'Svenska',
  de: 'Deutsch',
};

const $ = <T extends HTMLElement>(id: string) => document.getElementById(id) as T;
const options = (values: readonly (readonly [string, string])[]) =>
  values.map(([value, words]) =>
    Object.assign(document.createElement('option'), { value, textContent: words }),
  );

const agent = new Agent(
  {
    ask: (path, init) =>
      isOnline() ? fetch(`/desk/${path}`, init) : Promise.reject(new Error('There is no network.')),
    read: () => JSON.parse(localStorage.getItem(KEPT) ?? 'null') as AgentState | null,
    write: (state) => localStorage.setItem(KEPT, JSON.stringify(state)),
    now: () => new Date(),
    random: (bytes) => crypto.getRandomValues(new Uint8Array(bytes)),
  },
  new Engine(builtInDetectors()),
);

function isOnline(): boolean {
  return $<HTMLInputElement>('online').checked;
}

function say(words: string): void {
  $('said').textContent = words;
}

/** Files that were moved away, by name. */
function moved(): readonly string[] {
  return JSON.parse(localStorage.getItem(MOVED) ?? '[]') as string[];
}

function putAway(names: readonly string[]): void {
  localStorage.setItem(MOVED, JSON.stringify(names));
  openFile();
}

function openFile(): void {
  const name = $<HTMLSelectElement>('file').value;
  const text = $<HTMLTextAreaElement>('text');
  text.readOnly = moved().includes(name);
  text.value = text.readOnly
    ? `${name} is in quarantine: a rule stopped it, and the privacy office keeps it. Ask for it there.`
    : (FILES[name] ?? '');
}

function show(): void {
  const { state, bundle } = agent;
  $('in').hidden = state !== null;
  $('work').hidden = state === null;
  $('standing').textContent = state
    ? `${state.person} · ${bundle ? `rules ${bundle.number}, ${bundle.rules.filter((r) => !r.rehearsing).length} in force` : 'no rules yet'} · ${state.waiting.length} to tell${state.trouble && ` · ${state.trouble}`}`
    : 'Not let in yet.';
  $('answers').replaceChildren(
    ...(bundle?.answers ?? []).map((a) =>
      Object.assign(document.createElement('li'), {
        textContent: `The officer says ${a.allowed ? `yes, until ${a.until?.slice(0, 16).replace('T', ' ') ?? ''} UTC` : 'no'}${a.words && `: ${a.words}`}`,
      }),
    ),
  );
}

/** Rules and what waits go over the network whenever there is one. */
async function meet(): Promise<void> {
  try {
    await agent.refresh();
    await agent.tell();
    await agent.takeBack((name) => {
      putAway(moved().filter((m) => m !== name));
      say(`${name} is back where it was.`);
    });
  } catch (error) {
    if (isOnline()) say((error as Error).message);
  }
  show();
}

async function doIt(): Promise<void> {
  const channel = $<HTMLSelectElement>('way').value as Channel;
  const place = $<HTMLSelectElement>('place').value;
  const language = $<HTMLSelectElement>('language').value;
  const text = $<HTMLTextAreaElement>('text').value;
  const file = $<HTMLSelectElement>('file').value;
  if (moved().includes(file)) return say('It is in quarantine: there is nothing to take.');
  const decided = agent.decide(
    text,
    {
      ...{ act: ACT[channel], channel, person: agent.state?.person ?? '', program: 'stand-in' },
      ...{ towards: place ? [place] : [], network: isOnline() ? 'Brindle Office' : '' },
      item: { name: file },
    },
    language,
  );
  const { outcome } = decided.decision;
  const done = async (
    answer: 'went on' | 'turned back' | 'false alarm' | 'asked the officer' | null,
    reason: string,
    words: string,
  ) => {
    await agent.note(decided, answer, reason, text);
    if (decided.kept?.what === 'quarantine') putAway([...moved(), file]);
    say(
      decided.kept?.what === 'quarantine'
        ? `${words} The file was moved away; a note lies in its place.`
        : words,
    );
    await meet();
  };
  if (outcome === 'go' || outcome === 'record') return done(null, '', 'Done.');
  const dialog = $<HTMLDialogElement>('notice');
  $('says').textContent = decided.says;
  $('rule').textContent = decided.rule;
  $('found').replaceChildren(
    ...decided.shown.slice(0, 5).map((f) =>
      Object.assign(document.createElement('li'), {
        textContent: `${f.matches} × ${f.detector}: ${f.masked}`,
      }),
    ),
  );
  const reason = $<HTMLInputElement>('reason');
  reason.value = '';
  $('goOn').hidden = outcome === 'stop';
  dialog.returnValue = '';
  dialog.onclose = () => {
    const why = reason.value.trim();
    switch (dialog.returnValue) {
      case 'on':
        return void done('went on', why, 'Done, with your reason.');
      case 'ask':
        return void done('asked the officer', why, 'Not done. The officer is asked; the answer comes here.');
      case 'false':
        return void done('false alarm', why, 'Not done. The office hears that it is a false alarm.');
      default:
        return void done(outcome === 'ask' ? 'turned back' : null, why, 'Not done.');
    }
  };
  dialog.showModal();
}

function places(): void {
  const channel = $<HTMLSelectElement>('way').value as Channel;
  $('place').replaceChildren(...options(PLACES[channel].map((p) => [p, p])));
  $('place').hidden = PLACES[channel].length === 0;
}

$('way').replaceChildren(...options(CHANNELS.map((c) => [c, CHANNEL_WORDS[c]])));
$('file').replaceChildren(
  ...options([['', 'text of your own'], ...Object.keys(FILES).map((f) => [f, f] as const)]),
);
$('language').replaceChildren(...options(Object.entries(LANGUAGES)));
$('way').onchange = places;
$('file').onchange = openFile;
$('online').onchange = () => void meet();
$('do').onclick = () => void doIt();
$('refresh').onclick = () => void meet();
$<HTMLFormElement>('in').onsubmit = (e) => {
  e.preventDefault();
  const value = (id: string) => $<HTMLInputElement>(id).value.trim();
  agent
    // Also as the link that the desk gives out.
    .enrol(/[?&]token=([\w-]+)/.exec(value('token'))?.[1] ?? value('token'), {
      name: value('name'),
      person: value('person'),
      can: CHANNELS,
    })
    .then(() => say('Let in.'))
    .catch((error: unknown) => say((error as Error).message))
    .finally(show);
};
/** Who goes on says why, and who asks says what. */
const needsWords = (words: string) => (e: MouseEvent) => {
  if ($<HTMLInputElement>('reason').value.trim() !== '') return;
  e.preventDefault();
  $<HTMLInputElement>('reason').focus();
  $('why').textContent = words;
};
$('goOn').onclick = needsWords('Say why, then go on.');
$('askOfficer').onclick = needsWords('Write what you ask.');
places();
show();
if (agent.state) void meet();
setInterval(() => agent.state && void meet(), 5000);
