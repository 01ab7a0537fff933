import { z } from 'zod';
import type { Json } from '../../core/rules/change.ts';
import { JsonColumn } from '../store/columns.ts';
import type { RuleKind } from './rule-kind.ts';

/** Of a kind, what does not depend on its contents. */
export type AnyKind = Pick<RuleKind<unknown>, 'object' | 'upgrades'>;

/** The shape in which a kind writes contents now. */
export function shapeOf(kind: AnyKind): number {
  return 1 + (kind.upgrades?.length ?? 0);
}

/** A content that was written in an older shape, as it is written now. */
export function upgraded(kind: AnyKind, content: Json, shape: number): Json {
  return (kind.upgrades ?? []).slice(shape - 1).reduce((c, step) => step(c), content);
}

export const Content = JsonColumn(z.json());
