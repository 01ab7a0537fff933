import type { CoreArea } from '../area.ts';

export const CASES = {
  area: 'cases',
  actions: {
    'cases.read': {
      words: 'seeing what people ask, and how far it is',
      roles: ['request handler', 'auditor'],
    },
    'cases.handle': { words: 'handling what people ask', roles: ['request handler'] },
    'cases.tasks.read': { words: 'seeing one’s own tasks', roles: 'everyone' },
    'cases.task': {
      words: 'doing tasks of what people ask',
      roles: ['request handler', 'data steward', 'records manager', 'site manager', 'access reviewer'],
    },
    'cases.carry-out': { words: 'having data deleted or put right', roles: [] },
    'cases.incidents': { words: 'handling incidents, and deciding who is told', roles: ['request handler'] },
    'cases.dossiers.read': {
      words: 'seeing impact assessments, vendors and AI systems',
      roles: [
        'site manager',
        'data steward',
        'records manager',
        'access reviewer',
        'request handler',
        'auditor',
      ],
    },
    'cases.dossiers': {
      words: 'writing impact assessments, and looking after vendors and AI systems',
      roles: ['site manager', 'data steward'],
    },
    'cases.advise': { words: 'giving the advice of the data protection officer', roles: [] },
    'cases.approve': {
      words: 'approving impact assessments, vendors and AI systems',
      roles: ['data steward'],
    },
    'cases.policy': { words: 'saying how requests are handled', roles: [] },
  },
  today: {
    'request late': { words: 'late', tone: 'wrong', place: 12, does: 'Answer it' },
    'request due': { words: 'due', tone: 'open', place: 22, does: 'Answer it' },
    'incident late': { words: 'late', tone: 'wrong', place: 8, does: 'Tell it' },
    'incident open': { words: 'incident', tone: 'wrong', place: 10, does: 'Go on with it' },
    'request task': { words: 'task', tone: 'open', place: 32, does: 'Do it' },
    'request news': { words: 'request', tone: 'open', place: 42, does: 'Read it' },
    'dossier wrong': { words: 'look again', tone: 'wrong', place: 16, does: 'Look again' },
    'dossier due': { words: 'to be done', tone: 'open', place: 34, does: 'Go on with it' },
    'came back': { words: 'came back', tone: 'wrong', place: 14, does: 'See what' },
  },
  objects: {
    request: { words: 'request', see: 'cases.read' },
    incident: { words: 'incident', see: 'cases.read' },
    'request item': { words: 'what is held of somebody who asks', see: 'cases.read' },
    'request policy': { words: 'way in which requests are handled', see: 'cases.read' },
    'impact assessment': { words: 'impact assessment', see: 'cases.dossiers.read' },
    vendor: { words: 'vendor', see: 'cases.dossiers.read' },
    'AI system': { words: 'AI system', see: 'cases.dossiers.read' },
    questionnaire: { words: 'questionnaire', see: 'cases.dossiers.read' },
    'request task': { words: 'task of a request', see: 'cases.task' },
  },
} as const satisfies CoreArea;
