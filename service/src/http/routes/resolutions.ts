import type { ResolutionLoadBody, ResolveBody } from '@jade-fence/contract';
import { parseHost } from '@jade-fence/core/domain';
import { answeredHosts } from '@jade-fence/core/resolution';
import type { Knex } from 'knex';
import { note } from '../../audit/audit.js';
import { refusal } from '../../fault/refusal.js';
import { findLog } from '../../log/store.js';
import type { ResolutionLoad } from '../../model/resolution-load.js';
import type { Resolve } from '../../model/resolve.js';
import { loadResolutionFile } from '../../resolution/load-file.js';
import { newestResolutions, pageOfLoads, resolutionLoad } from '../../resolution/store.js';
import { findResolve, pageOfResolves, type Resolves } from '../../resolve/resolves.js';
import { currentSettings } from '../../setting/settings.js';
import type { PreparedStates } from '../../workspace/prepared.js';
import { ANY_INSTANT, currentState } from '../../workspace/state.js';
import type { Api } from '../api.js';
import { PageQuery } from '../input/page-query.js';
import { ResolutionFileQuery, ResolveInput } from '../input/resolution-input.js';
import { numberOf } from '../number-of.js';
import { pace } from '../pace.js';
import { type ProgressWatch, streamProgress } from '../progress.js';

interface ResolutionParts {
  readonly knex: Knex;
  readonly states: PreparedStates;
  readonly resolves: Resolves;
  readonly watch: ProgressWatch;
}

/** Which addresses hosts have: what is known, loading it from files, and looking hosts up. */
export function resolutionRoutes(api: Api, { knex, states, resolves, watch }: ResolutionParts): void {
  api.add('GET /resolutions', { does: 'How much is known of the addresses of hosts.' }, async (_asked, response) => {
    const id = await newestResolutions(knex);
    const newest = id === undefined ? undefined : await resolutionLoad(knex, id);
    const { resolutions } = await states.get(await currentState(knex, ANY_INSTANT));
    const { dnsServers } = await currentSettings(knex);
    response.json({
      state: id ?? null,
      hosts: answeredHosts(resolutions),
      changedAt: newest?.loadedAt.toISOString() ?? null,
      servers: dnsServers,
    });
  });

  api.add(
    'GET /resolutions/loads',
    { does: 'The files, logs and look-ups that answers came from, the newest first.', query: PageQuery },
    async ({ query }, response) => {
      const { items, next } = await pageOfLoads(knex, query);
      response.json({ loads: items.map(loadBody), next });
    },
  );

  api.add(
    'POST /resolutions/loads',
    {
      does: 'Loads a CSV, hosts or zone file of the addresses of hosts, in force at once.',
      query: ResolutionFileQuery,
      file: '256mb',
      status: 201,
    },
    async ({ query, file, who }, response) => {
      const { source, format, origin, anew } = query;
      response
        .status(201)
        .json(loadBody(await loadResolutionFile(knex, { source, format, origin, anew, file }, who.name)));
    },
  );

  resolveRoutes(api, { knex, resolves, watch });
}

function resolveRoutes(api: Api, { knex, resolves, watch }: Omit<ResolutionParts, 'states'>): void {
  const resolveOf = (params: { readonly id: string }) => findResolve(knex, numberOf(params.id, 'resolve'));

  api.add(
    'GET /resolves',
    { does: 'Look-ups of hosts, the newest first.', query: PageQuery },
    async ({ query }, response) => {
      const { items, next } = await pageOfResolves(knex, query);
      response.json({ resolves: items.map(resolveBody), next });
    },
  );

  api.add(
    'POST /resolves',
    { does: 'Looks up the hosts of a log, or those that are named.', body: ResolveInput, status: 202 },
    async ({ body, who }, response) => {
      const { log, hosts, by } = body;
      if ((log === undefined) === (hosts === undefined) || (by === 'log' && log === undefined))
        throw refusal('which-hosts');
      const order = {
        log: log === undefined ? undefined : await findLog(knex, log),
        hosts: hosts?.map((host) => parseHost(host) as string),
      };
      response.status(202).json(resolveBody(await resolves.order({ ...order, by, actor: who.name })));
    },
  );

  api.add('GET /resolves/:id', { does: 'One look-up of hosts.' }, async ({ params }, response) => {
    response.json(resolveBody(await resolveOf(params)));
  });

  api.add(
    'GET /resolves/:id/progress',
    {
      does: 'The progress of a look-up of hosts as server-sent events, until it ends.',
      type: 'text/event-stream',
    },
    async ({ params }, response) => {
      const { id } = await resolveOf(params);
      const job = { kind: 'resolve', id } as const;
      await streamProgress(response, watch, job, async () => resolveBody(await findResolve(knex, id)));
    },
  );

  api.add(
    'POST /resolves/:id/cancel',
    { does: 'Asks a look-up of hosts to stop. What was answered is kept.' },
    async ({ params, who }, response) => {
      const { id } = await resolveOf(params);
      await resolves.cancel(id);
      await note(knex, [{ actor: who.name, action: 'resolve-cancelled', kind: 'resolve', name: String(id) }]);
      response.json(resolveBody(await findResolve(knex, id)));
    },
  );
}

function loadBody(load: ResolutionLoad): ResolutionLoadBody {
  const { id, kind, name, actor, anew, hosts, faultCount, faults, loadedAt } = load;
  const shown = kind as ResolutionLoadBody['kind'];
  return { id, kind: shown, name, by: actor, anew, hosts, faultCount, faults, loadedAt: loadedAt.toISOString() };
}

function resolveBody(resolve: Resolve): ResolveBody {
  const { id, logName, by, state, actor, done, total, counts, examples, loadId, failure } = resolve;
  return {
    ...{ id, log: logName, by, state, actor, done, total },
    ...pace(resolve, total),
    ...{ counts, examples, load: loadId },
    failure: failure && { code: failure.code, detail: failure.detail, remedy: failure.remedy ?? null },
    startedAt: resolve.startedAt.toISOString(),
    finishedAt: resolve.finishedAt?.toISOString() ?? null,
  };
}
