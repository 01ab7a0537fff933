export interface MadeUpModel {
  readonly id: string;
  readonly name: string;
  readonly provider: string;
  readonly task: string;
  readonly licence: string;
  /** ISO 8601. */
  readonly published: string;
  readonly languages: readonly string[];
  readonly datasets: readonly string[];
  readonly metric: readonly [name: string, value: number];
  readonly intended: string;
  readonly limits: string;
  readonly training: string;
  /** Its card in CycloneDX, where it comes so. */
  readonly bom?: string;
}

const model = (
  id: string,
  name: string,
  provider: string,
  task: string,
  licence: string,
  published: string,
  more: Pick<MadeUpModel, 'languages' | 'datasets' | 'metric' | 'intended' | 'limits' | 'training'>,
): MadeUpModel => ({ id, name, provider, task, licence, published, ...more });

const NORTH = ['en', 'da', 'sv', 'de'];

/** Models of firms that there are not. */
export const MODELS: readonly MadeUpModel[] = [
  model(
    'deckhand-mail',
    'deckhand-mail',
    'Kestrel Text ApS',
    'text-classification',
    'apache-2.0',
    '2025-03-11',
    {
      ...{ languages: NORTH, datasets: ['terminal-mails'], metric: ['F1', 0.91] },
      intended: 'Sorts mail of a terminal by what it asks: refunds, lost property, complaints.',
      limits: 'Weak on mail of less than ten words, and on Swedish.',
      training: '40,000 made-up mails in four languages.',
    },
  ),
  model('quay-chat', 'Quay Chat 2', 'Talkdeck', 'text-generation', 'proprietary', '2026-01-20', {
    ...{ languages: NORTH, datasets: ['harbour-dialogues', 'web text'], metric: ['helpful answers', 0.83] },
    intended: 'A chat assistant that answers customers about timetables, fares and their booking.',
    limits: 'Makes up fares when asked about days far ahead. Not for medical or legal questions.',
    training: 'Text of the web until 2025, and dialogues that customers agreed to.',
  }),
  model('crew-match', 'CrewMatch', 'Northberth Systems', 'text-ranking', 'proprietary', '2025-09-02', {
    ...{
      languages: ['en', 'de'],
      datasets: ['applications 2015-2024'],
      metric: ['agreement with recruiters', 0.74],
    },
    intended: 'Ranks applicants for posts at sea by their CVs.',
    limits: 'Trained on those who were hired before: women are ranked lower for engine posts.',
    training: '120,000 applications to shipping lines, with who was hired.',
  }),
  {
    ...model('plate-reader', 'plate-reader', 'Lookwell Vision AB', 'image-to-text', 'MIT', '2024-11-05', {
      ...{ languages: [], datasets: ['deck pictures'], metric: ['accuracy', 0.97] },
      ...{ intended: '', limits: '', training: '' },
    }),
    bom: JSON.stringify({
      ...{ bomFormat: 'CycloneDX', specVersion: '1.6', version: 1 },
      components: [
        { type: 'data', 'bom-ref': 'deck-pictures', name: 'deck pictures' },
        {
          ...{
            type: 'machine-learning-model',
            name: 'plate-reader',
            version: '2.1',
            supplier: { name: 'Lookwell Vision AB' },
          },
          licenses: [{ license: { id: 'MIT' } }],
          modelCard: {
            modelParameters: {
              task: 'image-to-text',
              architectureFamily: 'convolutional',
              datasets: [{ ref: 'deck-pictures' }],
            },
            quantitativeAnalysis: {
              performanceMetrics: [{ type: 'accuracy', value: '0.97', slice: 'at night' }],
            },
            considerations: {
              useCases: ['Reads number plates on a car deck and compares them with bookings.'],
              technicalLimitations: ['Snow, and plates of before 1990'],
              ethicalConsiderations: [{ name: 'People may be in view; blur them before pictures are kept.' }],
            },
          },
        },
      ],
    }),
  },
  model(
    'berth-forecast',
    'berth-forecast',
    'Kestrel Text ApS',
    'tabular-regression',
    'apache-2.0',
    '2023-06-30',
    {
      ...{ languages: [], datasets: ['sailings 2012-2022'], metric: ['mean error in minutes', 6.2] },
      intended: 'Predicts arrival times from weather and traffic. No data of people.',
      limits: 'Not for steering or traffic control.',
      training: 'Eleven years of sailings.',
    },
  ),
  model('face-gate', 'FaceGate', 'Gatehouse AI', 'image-classification', 'proprietary', '2026-05-14', {
    ...{ languages: [], datasets: ['faces of volunteers'], metric: ['true acceptance', 0.993] },
    intended: 'Recognises faces of passengers at the gate, for boarding without papers.',
    limits: 'More false refusals for people with darker skin and for children.',
    training: 'Pictures of 60,000 volunteers.',
  }),
  model('mood-desk', 'MoodDesk', 'Gatehouse AI', 'audio-classification', 'proprietary', '2025-12-01', {
    ...{ languages: ['en'], datasets: ['calls'], metric: ['accuracy', 0.68] },
    intended: 'Infers the mood and emotions of call centre staff from their voice, for their managers.',
    limits: 'Accents lower its accuracy.',
    training: 'Recorded calls.',
  }),
  model('fare-words', 'fare-words', 'Openferry', 'summarization', 'cc-by-4.0', '2026-08-08', {
    ...{ languages: NORTH, datasets: ['public fares'], metric: ['ROUGE-L', 0.41] },
    intended: 'Summarises fare conditions in plain words.',
    limits: 'Leaves out exceptions; have a person read it.',
    training: 'Conditions of forty lines, and texts of the web.',
  }),
];
