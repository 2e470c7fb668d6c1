import type { DecisionsPage, LiveBody, RecordedBody } from '@jade-fence/contract';
import type { Knex } from 'knex';
import { noting } from '../../audit/audit.js';
import { tell } from '../../database/session.js';
import { rotateGrantKey } from '../../live/grants.js';
import { passcodeNames, setPasscode } from '../../live/passcodes.js';
import type { Api } from '../api.js';
import type { GateProcess } from '../gate/gate-process.js';
import { DecisionsQuery, PasscodeInput } from '../input/decision-input.js';
import { MappingName } from '../input/log-input.js';
import { validated } from '../validate.js';

/** What live decisions were: counted by rule, and those that were recorded. Decisions themselves are made in front. */
export function decisionRoutes(api: Api, knex: Knex, gate: Pick<GateProcess, 'counts'>): void {
  api.get(
    '/live',
    { role: 'viewer', does: 'What this service decided since it started, by rule.' },
    async (_asked, response) => {
      response.json((await gate.counts()) satisfies LiveBody);
    },
  );

  api.get(
    '/passcodes',
    { role: 'viewer', does: 'The names of the passcodes that are set.' },
    async (_asked, response) => {
      response.json({ passcodes: await passcodeNames(knex) });
    },
  );

  api.put(
    '/passcodes/:name',
    { role: 'publisher', does: 'Sets a passcode that rules ask for.', body: PasscodeInput, status: 204 },
    async ({ params, body, who }, response) => {
      const { name } = validated(MappingName, { name: params.name }, 'path');
      const deed = { actor: who.name, action: 'passcode-set', kind: 'passcode', name } as const;
      await noting(knex, deed, (trx) => setPasscode(trx, name, body.passcode));
      response.status(204).end();
    },
  );

  api.post(
    '/grants/end',
    { role: 'administrator', does: 'Ends all that clients were granted, by another key.', status: 204 },
    async ({ who }, response) => {
      const deed = { actor: who.name, action: 'grants-ended' } as const;
      await noting(knex, deed, async (trx) => {
        await rotateGrantKey(trx);
        await tell(trx, { type: 'grants' });
      });
      response.status(204).end();
    },
  );

  api.get(
    '/decisions',
    { role: 'viewer', does: 'A page of recorded decisions, the newest first.', query: DecisionsQuery },
    async ({ query }, response) => {
      const { before, limit, ...equal } = query;
      const rows = knex<RecordedRow>('decisions')
        .orderBy('id', 'desc')
        .limit(limit + 1);
      for (const [field, value] of Object.entries(equal)) if (value !== undefined) rows.where(field, value);
      if (before !== undefined) rows.where('id', '<', before);
      const found = await rows;
      const page = found.slice(0, limit);
      const next = found.length > limit ? (page.at(-1)?.id ?? null) : null;
      response.json({ decisions: page.map(recordedBody), next } satisfies DecisionsPage);
    },
  );
}

type RecordedRow = Omit<RecordedBody, 'decision' | 'at' | 'request' | 'client' | 'country'> & {
  readonly id: number;
  readonly at: Date;
  readonly told: Pick<RecordedBody, 'request' | 'client' | 'country'>;
};

function recordedBody({
  id,
  at,
  told,
  revision,
  policy,
  rule,
  verdict,
  effect,
  record,
  reference,
}: RecordedRow): RecordedBody {
  return {
    ...{ decision: id, at: at.toISOString(), revision, policy, rule, verdict, effect, record, reference },
    ...told,
  };
}
