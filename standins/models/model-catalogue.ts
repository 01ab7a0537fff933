import type { ServerResponse } from 'node:http';
import { send } from '../answer.ts';
import { MODELS, type MadeUpModel } from './made-up-models.ts';

/** Where made-up firms tell of their models. */
export const MODELS_HOST = 'models.localhost';

/** Lists models, and gives out the card of each: `/models` and `/models/ID`. */
export function modelCatalogue(response: ServerResponse, url: URL): void {
  const id = /^\/models\/([a-z0-9-]+)$/.exec(url.pathname)?.[1];
  const model = MODELS.find((m) => m.id === id);
  if (url.pathname === '/models')
    return send(response, 'application/json', JSON.stringify({ models: MODELS.map(listed) }));
  if (!model) return send(response, 'application/json', '{"error":"Nothing here."}', 404);
  send(response, 'application/json', JSON.stringify({ card: cardOf(model) }));
}

const listed = ({ id, name, provider, task, licence, published }: MadeUpModel) => ({
  id,
  name,
  provider,
  task,
  licence,
  published,
});

/** A card as its maker wrote it. */
export function cardOf(model: MadeUpModel): string {
  if (model.bom) return model.bom;
  const {
    name,
    provider,
    task,
    licence,
    published,
    languages,
    datasets,
    metric,
    intended,
    limits,
    training,
  } = model;
  return `---
model_name: ${name}
provider: ${provider}
version: "${published.slice(0, 7)}"
license: ${licence}
pipeline_tag: ${task}
language: [${languages.join(', ')}]
datasets: [${datasets.join(', ')}]
model-index:
  - name: ${name}
    results:
      - dataset: { name: "${datasets[0] ?? ''}, held back" }
        metrics:
          - { type: ${metric[0]}, name: ${metric[0]}, value: ${metric[1]} }
---
# Model card for ${name}

## Intended use
${intended}

## Limitations
${limits}

## Training data
${training}
`;
}
