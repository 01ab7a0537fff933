import { describe, expect, it } from 'vitest';
import { builtInDetectors, Engine } from '../../holdings/offers.ts';
import { parseLens } from '../../lens/lens-text.ts';
import type { Situation, WeighedHandling } from './decision.ts';
import { firstHandlingRule } from './handling-rule.ts';
import { decideText, type TextInMotion } from './text-decision.ts';

const engine = new Engine(builtInDetectors());
const SITUATION: Situation = {
  ...{ person: { address: 'a@x.example', groups: new Map() }, deviceGroups: new Set(), named: new Map() },
  today: '2026-12-01',
};
const rule = (line: string): WeighedHandling => ({
  ...{ id: '1', version: 1, broken: false },
  content: { ...firstHandlingRule('r', { 'web form': 'stop' }), lens: parseLens(line) },
});
const paste: TextInMotion = {
  ...{ act: 'paste', channel: 'web form', person: 'a@x.example', towards: ['https://shop.example/'] },
  ...{ program: '', network: '' },
};
const look = (text: string, line = 'matches:payment-card at least 2') =>
  decideText(engine, text, paste, SITUATION, [rule(line)]);
const TWO = 'Card 4111 1111 1111 1111, and card 5500 0055 5555 5559, both paid.';

describe('a text that is pasted', () => {
  it('is stopped for the cards in it, which are shown masked and told by their number alone', () => {
    const { decision, motion, shown } = look(TWO);
    expect(decision.outcome).toBe('stop');
    expect(motion.findings.find((f) => f.detector === 'payment-card')?.matches).toBe(2);
    expect(shown[0]).toMatchObject({ detector: 'payment-card', matches: 2 });
    expect(shown[0]?.masked).not.toContain('1111 1111 1111');
    expect(JSON.stringify([motion, decision])).not.toMatch(/4111|5500/);
  });

  it('goes with one card, and with numbers that are none', () => {
    expect(look('Card 4111 1111 1111 1111 paid.').decision.outcome).toBe('go');
    expect(look('Card 4111 1111 1111 1112, card 5500 0055 5555 5550.').decision.outcome).toBe('go');
  });

  it('is counted by the people in it and by its bytes', () => {
    const people = Array.from({ length: 12 }, (_, i) => `guest${i}@mail.example`).join('\n');
    const { motion, decision } = look(people, 'people at least 10');
    expect([motion.item.people, decision.outcome]).toEqual([12, 'stop']);
    expect(look('Østervig').motion.item.size).toBe(9);
    expect(look('', 'people at least 1').decision.outcome).toBe('go');
  });
});
