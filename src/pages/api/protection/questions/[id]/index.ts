import { z } from 'zod';
import { QuestionAnswer } from '../../../../../core/protection/handling/question.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { answerQuestion } from '../../../../../server/protection/questions/questions.ts';

export const POST = endpoint({
  action: 'protection.activity',
  input: z.object({ id: z.coerce.number().int().min(1), answer: QuestionAnswer }),
  run: ({ ctx, account, input }) => answerQuestion(ctx, account.id, input.id, input.answer),
});
