import type { Api } from '../api.js';
import type { Metrics } from '../metrics.js';
import { openApiOf } from '../openapi.js';

/** The service's description of itself: its API, and its figures. */
export function descriptionRoutes(api: Api, metrics: Metrics): void {
  api.add('GET /openapi.json', { does: 'The description of this API (OpenAPI 3.1).' }, (_asked, response) => {
    response.json(openApiOf(api.routes));
  });

  api.add(
    'GET /metrics',
    { does: 'Figures of the service, in the text format of Prometheus.', type: 'text/plain' },
    async (_asked, response) => {
      response.type(metrics.type).send(await metrics.text());
    },
  );
}
