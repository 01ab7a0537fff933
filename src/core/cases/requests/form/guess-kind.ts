import type { RequestKind } from '../request.ts';

/** Words that ask for something, in the languages that people here write in; the first that fits. */
const ASKING: readonly (readonly [RequestKind, RegExp])[] = [
  ['no sale', /do not sell|don['’]t sell|not to sell|sale of my|sharing of my/i],
  [
    'delete',
    /\b(?:delete|erase|eras(?:ure|e)|forget me|remove (?:my|all|me))|\bslet|\bradera|\blösch|\bsupprim|\bborr(?:ar|en)|\bcancell|\busun|\bverwijder|\bpoist(?:aa|ak)|\beliminar|\bapagar/i,
  ],
  [
    'correct',
    /\b(?:correct|rectif|wrong (?:name|address|date)|spelled wrong)|\bret(?:te|telse)\b|\brätta|\bbericht|\brectif|\bkorrig|\bsprostow/i,
  ],
  [
    'withdraw',
    /withdraw (?:my )?consent|unsubscribe|tilbage(?:kald|trækk)|återkalla|widerruf|retirer mon consent/i,
  ],
  ['object', /\bobject(?:ion)?\b|stop using my|\bgør indsigelse|\binvänd|\bwiderspr|\bopposition/i],
  ['restrict', /\brestrict|\bbegræns|\bbegräns|\beinschränk|\blimitation du traitement/i],
  ['move', /portab|machine[- ]readable|take my data|dataportab|übertrag/i],
  [
    'access',
    /what (?:data )?you (?:have|hold|know)|copy of (?:my|all)|\baccess\b|subject access|\bindsigt|\bregisterutdrag|\btillgång|\bauskunft|\baccès|\bacceso|\baccesso|\bdostęp|\binzage|\btietoni/i,
  ],
];

/** What a letter seems to ask; `undefined` where nothing tells. A person decides. */
export function guessKind(text: string): RequestKind | undefined {
  return ASKING.find(([, words]) => words.test(text))?.[0];
}
