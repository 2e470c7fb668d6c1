import type { Knex } from 'knex';

/** What looking at the whole chain of the audit found. */
export interface AuditVerdict {
  readonly entries: number;
  /** The hash of the newest entry, in hexadecimal: a copy of it elsewhere proves later that the past is unchanged. */
  readonly head: string;
  /** The first entry that does not follow from the one before; null where all do. */
  readonly brokenAt: number | null;
  /** Whether entries are missing at the end. */
  readonly isCut: boolean;
  /** Whether the head that was asked about is among the entries; null where none was. */
  readonly hasHead: boolean | null;
}

/** Recomputes the hash of every entry from the one before. `head`: a head of the chain from earlier, in hexadecimal. */
export async function verifyAudit(knex: Knex, head?: string): Promise<AuditVerdict> {
  return knex.transaction(
    async (trx) => {
      const { rows } = await trx.raw(CHAIN);
      const { entries, last, broken } = rows[0] as { entries: number; last: Buffer | null; broken: number | null };
      const kept = (await trx('audit_head').first('entries', 'hash')) as { entries: number; hash: Buffer };
      const known =
        head === undefined
          ? undefined
          : await trx('audit')
              .where({ hash: Buffer.from(head, 'hex') })
              .first('id');
      return {
        entries,
        head: kept.hash.toString('hex'),
        brokenAt: broken,
        isCut: Number(kept.entries) !== entries || !(last ?? Buffer.alloc(0)).equals(kept.hash),
        hasHead: head === undefined ? null : known !== undefined,
      };
    },
    { isolationLevel: 'repeatable read' },
  );
}

const CHAIN = `
  with chained as (
    select id, hash, sha256(coalesce(lag(hash) over (order by id), ''::bytea) || audit_content(entry.*)) as expected
    from audit entry
  )
  select count(*)::int as entries, (array_agg(hash order by id desc))[1] as last,
    min(id) filter (where hash <> expected)::int as broken
  from chained`;
