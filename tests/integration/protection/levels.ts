import { Document, Packer, Paragraph } from 'docx';
import ExcelJS from 'exceljs';
import { parseLens } from '../../../src/core/lens/lens-text.ts';
import { newLevel, type LevelContent } from '../../../src/core/protection/levels/level-content.ts';
import type { LevelRuleContent } from '../../../src/core/protection/rules/level-rule.ts';
import type { Act } from '../../../src/core/rules/rule.ts';
import type { Context } from '../../../src/server/context.ts';
import { addLevel, LEVEL } from '../../../src/server/protection/levels/levels.ts';
import { addLevelRule, LEVEL_RULE } from '../../../src/server/protection/rules/level-rules.ts';
import { moveRule } from '../../../src/server/rules/rule-moves.ts';
import { unique } from '../context.ts';

/** A level in force; its id. The later one is stronger. */
export async function level(ctx: Context, by: number, more: Partial<LevelContent> = {}): Promise<string> {
  return ctx.store.transaction(async (tx) => {
    const id = await addLevel(tx, ctx.now(), by, { ...newLevel(unique('Level ')), ...more });
    await moveRule(tx, ctx.now(), LEVEL, by, id, 'put in force', 1);
    return id;
  });
}

/** A rule, moved so; its id. */
export async function levelRule(
  ctx: Context,
  by: number,
  of: { level: string; where: string; keeps?: LevelRuleContent['keeps']; how?: LevelRuleContent['how'] },
  ...acts: readonly Act['act'][]
): Promise<string> {
  return ctx.store.transaction(async (tx) => {
    const id = await addLevelRule(tx, ctx.now(), by, {
      name: unique('Rule '),
      level: of.level,
      lens: parseLens(of.where),
      how: of.how ?? 'set',
      keeps: of.keeps ?? 'set',
      because: '',
    });
    for (const act of acts) await moveRule(tx, ctx.now(), LEVEL_RULE, by, id, act, 1);
    return id;
  });
}

export async function wordFile(text: string): Promise<Buffer> {
  return Packer.toBuffer(new Document({ sections: [{ children: [new Paragraph(text)] }] }));
}

export async function sheetFile(...rows: readonly (readonly string[])[]): Promise<Buffer> {
  const book = new ExcelJS.Workbook();
  book.addWorksheet('One').addRows(rows.map((r) => [...r]));
  return Buffer.from(await book.xlsx.writeBuffer());
}
