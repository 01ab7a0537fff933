import { z } from 'zod';
import { openApi, type DescribedRoute } from '../../core/accounts/programs/openapi.ts';
import { descriptions } from '../../server/http/descriptions.ts';
import { DESCRIBED, endpoint, type Described } from '../../server/http/endpoint.ts';

type Module = Readonly<Record<string, unknown>>;

/** Every endpoint of the desk but this one, the two of signing in, and those for a person's own word. */
const MODULES = import.meta.glob<Module>([
  './**/*.ts',
  '!./openapi.json.ts',
  '!./accounts/sign-in.ts',
  '!./accounts/sign-out.ts',
]);

async function routes(): Promise<readonly DescribedRoute[]> {
  const found: DescribedRoute[] = [];
  for (const [path, load] of Object.entries(MODULES))
    for (const [method, route] of Object.entries(await load())) {
      const told = (route as { readonly [DESCRIBED]?: Described } | undefined)?.[DESCRIBED];
      if (!told || told.byPeople) continue;
      const { action, input } = told;
      found.push({
        ...{ method, file: path.replace(/^\.\//, '').replace(/\.ts$/, ''), input },
        action: typeof action === 'string' ? action : null,
      });
    }
  return found;
}

let document: Promise<ReturnType<typeof openApi>> | undefined;

/** All that programs can ask of the desk, in OpenAPI 3.1. */
export const GET = endpoint({
  action: 'today.read',
  input: z.object({}),
  run: ({ ctx }) => {
    document ??= Promise.all([routes(), descriptions()]).then(([all, told]) =>
      openApi(all, told, ctx.settings.WEB_ORIGIN),
    );
    return document;
  },
});
