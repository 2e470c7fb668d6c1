import type { Role } from '@jade-fence/contract';
import type { Knex } from 'knex';
import { type Page, type PageAsked, pageOf } from '../database/page.js';
import { notFound } from '../fault/not-found.js';
import { refusal } from '../fault/refusal.js';
import { Person, Token } from '../model/person.js';
import { hashPassword, isPassword } from './password.js';
import { closeSessions } from './sessions.js';

/** Only changes of people take this lock: two administrators cannot each end the other's rights at once. */
const PEOPLE_LOCK = 7_440_002;

/** Waits until nobody else changes people, and keeps others waiting until the transaction ends. */
export async function lockPeople(trx: Knex.Transaction): Promise<void> {
  await trx.raw('select pg_advisory_xact_lock(?)', [PEOPLE_LOCK]);
}

/** By name. */
export function pageOfPeople(knex: Knex, page: PageAsked<string>): Promise<Page<Person, string>> {
  return pageOf(Person.query(knex), 'name', 'asc', page);
}

/** The person of a name. Refuses with `unknown-person`. */
export async function findPerson(knex: Knex, name: string): Promise<Person> {
  const person = await Person.query(knex).findOne({ name });
  if (person) return person;
  const names = (await Person.query(knex).select('name').orderBy('name')).map((each) => each.name);
  throw notFound('person', name, names, 'Add them with `jade-fence person add NAME`.');
}

export interface NewPerson {
  readonly name: string;
  readonly role: Role;
  readonly password?: string | undefined;
}

/** Adds a person. Refuses a name that is taken with `person-exists`. */
export async function addPerson(knex: Knex, { name, role, password }: NewPerson): Promise<Person> {
  if (await Person.query(knex).findOne({ name })) throw refusal('person-exists', { name });
  return Person.query(knex)
    .insert({ name, role, password: password === undefined ? null : await hashPassword(password), disabled: false })
    .returning('*');
}

export interface PersonChange {
  readonly role?: Role | undefined;
  readonly password?: string | undefined;
  readonly disabled?: boolean | undefined;
  readonly seesAddresses?: boolean | undefined;
}

/** Changes a person. There is always an administrator left who can sign in. */
export async function changePerson(knex: Knex, name: string, change: PersonChange): Promise<Person> {
  const { role, password, disabled, seesAddresses } = change;
  const kept = password === undefined ? undefined : await hashPassword(password);
  return knex.transaction(async (trx) => {
    await lockPeople(trx);
    const person = await findPerson(trx, name);
    const changed = await Person.query(trx).patchAndFetchById(person.id, {
      ...(role !== undefined && { role }),
      ...(kept !== undefined && { password: kept }),
      ...(disabled !== undefined && { disabled }),
      ...(seesAddresses !== undefined && { seesAddresses }),
    });
    await requireAdministrator(trx);
    // Whoever signed in with the old password, or with more rights, signs in again.
    if (role !== undefined || kept !== undefined || disabled !== undefined) await closeSessions(trx, person.id);
    return changed;
  });
}

/** Removes a person with their tokens and sessions; what they did stays in the audit under their name. */
export async function removePerson(knex: Knex, name: string): Promise<void> {
  await knex.transaction(async (trx) => {
    await lockPeople(trx);
    const person = await findPerson(trx, name);
    await Person.query(trx).deleteById(person.id);
    await requireAdministrator(trx);
  });
}

/** Refuses what would leave no administrator with a way in: a password, or a token of that role that holds. */
export async function requireAdministrator(trx: Knex.Transaction): Promise<void> {
  const holding = Token.query(trx)
    .whereColumn('tokens.personId', 'people.id')
    .where({ 'tokens.role': 'administrator' })
    .where((either) => either.whereNull('tokens.expiresAt').orWhere('tokens.expiresAt', '>', new Date()));
  const left = await Person.query(trx)
    .where({ role: 'administrator', disabled: false })
    .where((either) => either.whereNotNull('password').orWhereExists(holding))
    .resultSize();
  if (left > 0) return;
  throw refusal('last-administrator');
}

/** Who has the name and password; undefined where that is nobody, whichever of the two is wrong. */
export async function whoHasPassword(knex: Knex, name: string, password: string): Promise<Person | undefined> {
  const person = await Person.query(knex).findOne({ name });
  const right = await isPassword(password, person?.password ?? null);
  return right && person && !person.disabled ? person : undefined;
}
