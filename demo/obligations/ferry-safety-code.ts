import { FrameworkFile } from '../../src/core/obligations/framework/framework-file.ts';

/** What the ferry line asks of itself beyond the law: its own controls and measures, and some of the baseline. */
export const FERRY_SAFETY_CODE: FrameworkFile = FrameworkFile.parse({
  format: 'yare-framework-1',
  ...{ id: 'ferry-safety-code', version: '2026-02-01', name: 'Ferry safety code, own' },
  title: 'What Brindle Strait Ferries asks of ships and terminals about people’s data',
  issuer: 'Brindle Strait Ferries, safety board',
  regions: ['DK', 'SE', 'DE', 'GB'],
  covers: 'All of the code that speaks of people’s data: on board, at the quay, and for crew.',
  whole: true,
  takes: [{ framework: 'baseline', version: '2026-11-01', controls: ['know-special', 'trained'] }],
  families: [
    { id: 'board', name: 'On board' },
    { id: 'quay', name: 'At the quay' },
    { id: 'crew', name: 'Crew' },
  ],
  controls: [
    {
      ...{
        id: 'board.manifest',
        family: 'board',
        ref: 'Code 1.1',
        name: 'Rescue has the manifest, and nobody else',
      },
      ...{ duty: 'required', kind: 'prevents', risk: 5 },
      guidance:
        'The manifest is for search and rescue. The bridge and the duty officer ashore can open it; it is no list for sales or for the purser.',
      measures: ['seal-manifests'],
    },
    {
      ...{
        id: 'board.assistance',
        family: 'board',
        ref: 'Code 1.2',
        name: 'Notes on health stay with assistance',
      },
      ...{ duty: 'required', kind: 'prevents', risk: 5 },
      guidance:
        'A passenger who asks for a wheelchair tells of their health. The note goes to those who help at the ramp, and ends with the voyage.',
      measures: ['end-assistance-notes', 'brief-ramp-crew'],
    },
    {
      ...{
        id: 'board.cameras',
        family: 'board',
        ref: 'Code 1.3',
        name: 'Car-deck cameras are looked at for a reason',
      },
      ...{ duty: 'required', kind: 'detects', risk: 3 },
      guidance:
        'Pictures are opened after damage or an alarm, by two people, and the reason is written down.',
      measures: ['log-camera-looks'],
    },
    {
      ...{ id: 'quay.lost', family: 'quay', ref: 'Code 2.1', name: 'Lost phones and papers are not read' },
      ...{ duty: 'required', kind: 'prevents', risk: 3 },
      guidance:
        'What is found is bagged unopened. Only papers that name an owner are looked at, as far as it takes to find them.',
      measures: ['bag-lost-property', 'brief-ramp-crew'],
    },
    {
      ...{
        id: 'quay.screens',
        family: 'quay',
        ref: 'Code 2.2',
        name: 'Nobody reads a booking over a shoulder',
      },
      ...{ duty: 'by choice', kind: 'prevents', risk: 2 },
      guidance: 'Screens at desks and kiosks face away from the line, and blank after half a minute.',
      measures: ['turn-screens'],
    },
    {
      ...{
        id: 'crew.certificates',
        family: 'crew',
        ref: 'Code 3.1',
        name: 'Medical certificates are sealed on board',
      },
      ...{ duty: 'required', kind: 'prevents', risk: 4 },
      guidance:
        'The master sees that a certificate is valid. What it says is for the doctor, and lies sealed until then.',
      measures: ['seal-certificates'],
    },
  ],
  measures: [
    {
      ...{
        id: 'seal-manifests',
        name: 'Seal manifests for bridge and duty officer',
        hours: 16,
        whose: 'ours',
      },
      steps: ['Write them to the safe share of each ship', 'Try whether the purser’s account can open one'],
      evidence: ['The try on each ship, with its day'],
    },
    {
      ...{
        id: 'end-assistance-notes',
        name: 'End notes of assistance with the voyage',
        hours: 8,
        whose: 'ours',
      },
      steps: ['Have the booking system drop the note a day after arrival', 'Look for copies on shares'],
      evidence: ['A search three days after a voyage'],
    },
    {
      ...{ id: 'brief-ramp-crew', name: 'Brief those at the ramp each season', hours: 6, whose: 'ours' },
      steps: ['Ten minutes at the first muster', 'Note who was there'],
      evidence: ['The muster lists of this season'],
    },
    {
      ...{ id: 'log-camera-looks', name: 'Write down each look at camera pictures', hours: 4, whose: 'ours' },
      steps: ['A book on each bridge: who, with whom, why'],
      evidence: ['Two pages of each book'],
    },
    {
      ...{ id: 'bag-lost-property', name: 'Bag what is found, unopened', hours: 3, whose: 'ours' },
      steps: ['Bags with numbers at every lounge', 'A list of numbers ashore, without names'],
      evidence: ['The list of a month'],
    },
    {
      ...{ id: 'turn-screens', name: 'Turn screens away from the line', hours: 5, whose: 'ours' },
      steps: ['Walk through every terminal', 'Blank after 30 seconds'],
      evidence: ['Photos of each desk, without people'],
    },
    {
      ...{ id: 'seal-certificates', name: 'Seal medical certificates on board', hours: 6, whose: 'ours' },
      steps: ['Envelopes with the date of validity outside', 'The doctor’s cabinet ashore for what is over'],
      evidence: ['A look into the cabinet of each ship'],
    },
  ],
});
