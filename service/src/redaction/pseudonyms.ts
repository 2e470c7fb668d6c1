import { createHmac } from 'node:crypto';
import { BoundedMap } from '@jade-fence/core/memo';
import type { Pseudonym } from '@jade-fence/core/redact';
import type { Knex } from 'knex';
import { secretOf } from '../setting/secret.js';

const NAME = 'pseudonyms';
/** 48 bits: among a million clients two share a pseudonym about once in five hundred. */
const LENGTH = 12;
const MOST_KEPT = 200_000;

/** Pseudonyms by the key of this database: HMAC-SHA-256 (RFC 2104), of which the first 48 bits are shown. */
export async function pseudonymsOf(knex: Knex): Promise<Pseudonym> {
  const key = await secretOf(knex, NAME);
  const known = new BoundedMap<string, string>(MOST_KEPT);
  return (kind, value) => {
    const text = `${kind}\0${value}`;
    return known.of(text, () => `${kind}-${createHmac('sha256', key).update(text).digest('hex').slice(0, LENGTH)}`);
  };
}
