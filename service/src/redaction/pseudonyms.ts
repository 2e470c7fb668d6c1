import { createHmac } from 'node:crypto';
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
  const known = new Map<string, string>();
  return (kind, value) => {
    const text = `${kind}\0${value}`;
    let pseudonym = known.get(text);
    if (pseudonym === undefined) {
      if (known.size >= MOST_KEPT) known.clear();
      pseudonym = `${kind}-${createHmac('sha256', key).update(text).digest('hex').slice(0, LENGTH)}`;
      known.set(text, pseudonym);
    }
    return pseudonym;
  };
}
