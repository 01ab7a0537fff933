import type { CoreArea } from '../area.ts';

export const PROTECTION = {
  area: 'protection',
  actions: {
    'protection.read': {
      words: 'seeing levels and the rules that set them',
      roles: ['data steward', 'records manager', 'request handler', 'auditor'],
    },
    'protection.edit': { words: 'changing levels and the rules that set them', roles: ['data steward'] },
    'protection.put-in-force': { words: 'putting levels and their rules in force', roles: [] },
    'protection.set': { words: 'setting the level of an item by hand', roles: ['data steward'] },
    'protection.activity': { words: 'seeing what people do with data, and what rules would do', roles: [] },
    'protection.devices': { words: 'letting devices in and out', roles: [] },
    'protection.alerts': {
      words: 'seeing what lookouts raised, and looking into it',
      roles: ['request handler'],
    },
    'protection.evidence': { words: 'opening what is kept of data in motion', roles: [] },
    'protection.watch': { words: 'saying what lookouts watch, and whom they tell', roles: [] },
    'protection.run': { words: 'setting levels backwards over what is held', roles: [] },
  },
  today: {
    'level proposed': { words: 'asked', tone: 'open', place: 60, does: 'Answer' },
    'asked by a person': { words: 'asked', tone: 'open', place: 30, does: 'Answer' },
    'alert raised': { words: 'alert', tone: 'wrong', place: 25, does: 'Look' },
    'marking lost': { words: 'lost', tone: 'wrong', place: 40, does: 'See which' },
  },
  objects: {
    level: { words: 'level', see: 'protection.read' },
    'level policy': { words: 'way in which levels are set', see: 'protection.read' },
    publication: { words: 'publication', see: 'protection.read' },
    'level rule': { words: 'level rule', see: 'protection.read' },
    'handling rule': { words: 'handling rule', see: 'protection.read' },
    'named group': { words: 'group that rules use', see: 'protection.read' },
    'device group': { words: 'group of devices', see: 'protection.read' },
    device: { words: 'device', see: 'protection.read' },
    'device enrolment': { words: 'letting in of devices', see: 'protection.devices' },
    'view rule': { words: 'rule about what is kept in view', see: 'protection.activity' },
    lookout: { words: 'lookout', see: 'protection.alerts' },
    question: { words: 'question from where somebody was stopped', see: 'protection.activity' },
    evidence: { words: 'kept copy of data in motion', see: 'protection.evidence' },
    alert: { words: 'alert', see: 'protection.alerts' },
    activity: { words: 'how long activity is kept', see: 'protection.activity' },
  },
} as const satisfies CoreArea;
