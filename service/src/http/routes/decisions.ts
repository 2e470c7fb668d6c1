import type { LiveBody, RecordedBody } from '@jade-fence/contract';
import type { Knex } from 'knex';
import { noting } from '../../audit/audit.js';
import { pageOf } from '../../database/page.js';
import { notify } from '../../database/session.js';
import { rotateGrantKey } from '../../live/grants.js';
import { pageOfPasscodes, setPasscode } from '../../live/passcodes.js';
import { Decision } from '../../model/decision.js';
import type { Api } from '../api.js';
import type { GateProcess } from '../gate/gate-process.js';
import { DecisionsQuery, PasscodeInput } from '../input/decision-input.js';
import { MappingName } from '../input/log-input.js';
import { NamedPageQuery } from '../input/page-query.js';
import { validated } from '../validate.js';

/** What live decisions were: counted by rule, and those that were recorded. Decisions themselves are made in front. */
export function decisionRoutes(api: Api, knex: Knex, gate: Pick<GateProcess, 'counts'>): void {
  api.add('GET /live', { does: 'What this service decided since it started, by rule.' }, async (_asked, response) => {
    response.json((await gate.counts()) satisfies LiveBody);
  });

  api.add(
    'GET /passcodes',
    { does: 'The names of the passcodes that are set.', query: NamedPageQuery },
    async ({ query }, response) => {
      const { items, next } = await pageOfPasscodes(knex, query);
      response.json({ passcodes: items.map(({ name }) => name), next });
    },
  );

  api.add(
    'PUT /passcodes/:name',
    { does: 'Sets a passcode that rules require.', body: PasscodeInput, status: 204 },
    async ({ params, body, who }, response) => {
      const { name } = validated(MappingName, { name: params.name }, 'path');
      const deed = { actor: who.name, action: 'passcode-set', kind: 'passcode', name } as const;
      await noting(knex, deed, (trx) => setPasscode(trx, name, body.passcode));
      response.status(204).end();
    },
  );

  api.add(
    'POST /grants/end',
    { does: 'Ends all that clients were granted, by another key.', status: 204 },
    async ({ who }, response) => {
      const deed = { actor: who.name, action: 'grants-ended' } as const;
      await noting(knex, deed, async (trx) => {
        await rotateGrantKey(trx);
        await notify(trx, { type: 'grants' });
      });
      response.status(204).end();
    },
  );

  api.add(
    'GET /decisions',
    { does: 'A page of recorded decisions, the newest first.', query: DecisionsQuery },
    async ({ query }, response) => {
      const { after, limit, ...equal } = query;
      const decisions = Decision.query(knex);
      for (const [field, value] of Object.entries(equal)) if (value !== undefined) decisions.where(field, value);
      const { items, next } = await pageOf(decisions, 'id', 'desc', { after, limit });
      response.json({ decisions: items.map(recordedBody), next });
    },
  );
}

function recordedBody({
  id,
  at,
  shown,
  revision,
  policy,
  rule,
  verdict,
  effect,
  record,
  reference,
}: Decision): RecordedBody {
  return {
    ...{ decision: id, at: at.toISOString(), revision, policy, rule, verdict, effect, record, reference },
    ...shown,
    destinationCountry: shown.destinationCountry ?? null,
  };
}
