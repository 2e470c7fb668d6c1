import type { Knex } from 'knex';
import { note, noting } from '../../audit/audit.js';
import { Person, type Token } from '../../model/person.js';
import { addPerson, allPeople, changePerson, findPerson, removePerson, whoHasPassword } from '../../people/people.js';
import { mayAct } from '../../people/role.js';
import { createToken, deleteToken, tokensOf } from '../../people/tokens.js';
import { changeSettings, currentSettings } from '../../setting/settings.js';
import type { Api } from '../api.js';
import type { PersonBody, TokenBody } from '../bodies.js';
import {
  NewPersonInput,
  NewTokenInput,
  PasswordChangeInput,
  PersonChangeInput,
  SettingsInput,
  TokensQuery,
} from '../input/people-input.js';
import { instantOf } from '../instant.js';
import { numberOf } from '../number-of.js';
import { Problem } from '../problem.js';

const TOKEN_DAYS = 90;

/** People, their tokens, and what administrators choose. */
export function peopleRoutes(api: Api, knex: Knex): void {
  ownRoutes(api, knex);

  api.get('/people', { role: 'administrator', does: 'Who may sign in.' }, async (_asked, response) => {
    response.json({ people: (await allPeople(knex)).map(personBody) });
  });

  api.post(
    '/people',
    { role: 'administrator', does: 'Adds a person.', body: NewPersonInput, status: 201 },
    async ({ body, who }, response) => {
      const detail = { role: body.role };
      const deed = { actor: who.name, action: 'person-added', kind: 'person', name: body.name, detail } as const;
      const person = await noting(knex, deed, (trx) => addPerson(trx, body));
      response.status(201).json(personBody(person));
    },
  );

  api.patch(
    '/people/:name',
    {
      role: 'administrator',
      does: 'Changes a person: role, password, whether they may sign in.',
      body: PersonChangeInput,
    },
    async ({ params, body, who }, response) => {
      const { password, ...open } = body;
      const detail = { ...open, ...(password !== undefined && { password: 'set' }) };
      const deed = { actor: who.name, action: 'person-changed', kind: 'person', name: params.name, detail } as const;
      const person = await noting(knex, deed, (trx) => changePerson(trx, params.name, body));
      response.json(personBody(person));
    },
  );

  api.delete(
    '/people/:name',
    { role: 'administrator', does: 'Removes a person with their tokens.', status: 204 },
    async ({ params, who }, response) => {
      const deed = { actor: who.name, action: 'person-removed', kind: 'person', name: params.name } as const;
      await noting(knex, deed, (trx) => removePerson(trx, params.name));
      response.status(204).end();
    },
  );

  api.get(
    '/settings',
    { role: 'viewer', does: 'What administrators chose for the service.' },
    async (_asked, response) => {
      response.json(await currentSettings(knex));
    },
  );

  api.patch(
    '/settings',
    { role: 'administrator', does: 'Changes settings.', body: SettingsInput },
    async ({ body, who }, response) => {
      response.json(
        await changeSettings(
          knex,
          { fourEyes: body.fourEyes, alertUrl: body.alertUrl === '' ? null : body.alertUrl },
          who.name,
        ),
      );
    },
  );
}

/** What everyone may do for themselves. */
function ownRoutes(api: Api, knex: Knex): void {
  api.get('/me', { role: 'viewer', does: 'Who calls, and what they may do.' }, ({ who }, response) => {
    response.json({ name: who.name, role: who.role });
  });

  api.put(
    '/me/password',
    { role: 'viewer', does: 'Changes one’s own password.', body: PasswordChangeInput, status: 204 },
    async ({ body, who }, response) => {
      const person = await findPerson(knex, who.name);
      const known = person.password === null || (await whoHasPassword(knex, who.name, body.old ?? ''));
      if (!known) throw new Problem(403, 'wrong-password', 'The password until now is not right.');
      const deed = { actor: who.name, action: 'password-changed', kind: 'person', name: who.name } as const;
      await noting(knex, deed, (trx) => changePerson(trx, who.name, { password: body.password }));
      response.status(204).end();
    },
  );

  api.get(
    '/tokens',
    { role: 'viewer', does: 'One’s own tokens; those of all for administrators.', query: TokensQuery },
    async ({ query, who }, response) => {
      const all = query.all === 'true';
      if (all && !mayAct(who.role, 'administrator'))
        throw new Problem(403, 'role-too-low', 'The tokens of others are for administrators.');
      const tokens = await tokensOf(knex, all ? undefined : who.id);
      const names = new Map((await Person.query(knex)).map(({ id, name }) => [id, name]));
      response.json({ tokens: tokens.map((token) => tokenBody(token, names.get(token.personId) ?? '')) });
    },
  );

  api.post(
    '/tokens',
    {
      role: 'viewer',
      does: 'Makes a token of one’s own; its key is told this once.',
      body: NewTokenInput,
      status: 201,
    },
    async ({ body, who }, response) => {
      const { name, role = who.role, expires } = body;
      const expiresAt = expires === undefined ? new Date(Date.now() + TOKEN_DAYS * 86_400_000) : instantOf(expires);
      const detail = { role, expires: expiresAt.toISOString() };
      const deed = { actor: who.name, action: 'token-made', kind: 'token', name, detail } as const;
      const token = await noting(knex, deed, (trx) => createToken(trx, who, { name, role, expiresAt }));
      response.status(201).json({ ...tokenBody(token, who.name), secret: token.secret });
    },
  );

  api.delete(
    '/tokens/:id',
    { role: 'viewer', does: 'Deletes a token of one’s own; anyone’s for administrators.', status: 204 },
    async ({ params, who }, response) => {
      await knex.transaction(async (trx) => {
        const token = await deleteToken(trx, who, numberOf(params.id, 'token'));
        await note(trx, [{ actor: who.name, action: 'token-deleted', kind: 'token', name: token.name }]);
      });
      response.status(204).end();
    },
  );
}

function personBody({ name, role, disabled, password, createdAt }: Person): PersonBody {
  return { name, role, disabled, password: password !== null, createdAt: createdAt.toISOString() };
}

function tokenBody({ id, name, role, expiresAt, usedAt, createdAt }: Token, person: string): TokenBody {
  const [expires, used] = [expiresAt?.toISOString() ?? null, usedAt?.toISOString() ?? null];
  return { token: id, name, person, role, expiresAt: expires, usedAt: used, createdAt: createdAt.toISOString() };
}
