import type { RuleCount } from '@jade-fence/contract';
import type { Knex } from 'knex';
import { RuleUsage } from '../model/rule-usage.js';

/** This many days are kept. */
export const MOST_USAGE_DAYS = 400;

/** What rules did since it was written down last. */
export type UsageGrowth = Pick<RuleCount, 'policy' | 'rule' | 'role' | 'count'>;

// The clock is that of the database: a service whose own is wrong neither dates usage ahead nor lets go of what is to be kept.
const TODAY = "(now() at time zone 'UTC')::date";
// One statement, so that it is done as a whole or not at all. Rows of one rule are put together: it may touch a row once.
const ADD = `
  with trimmed as (delete from rule_usage where day < ${TODAY} - ${MOST_USAGE_DAYS})
  insert into rule_usage (policy, rule, role, day, count, last_at)
  select policy, rule, role, ${TODAY}, sum(count), now()
  from jsonb_to_recordset(?::jsonb) as grown(policy text, rule text, role text, count bigint)
  group by policy, rule, role
  order by policy, rule, role
  on conflict (policy, rule, role, day) do update
  set count = rule_usage.count + excluded.count, last_at = greatest(rule_usage.last_at, excluded.last_at)`;

/** Adds what rules did to today, and lets go of days that are no more kept. */
export async function addUsage(knex: Knex, rows: readonly UsageGrowth[]): Promise<void> {
  await knex.raw(ADD, [JSON.stringify(rows)]);
}

/** What one rule did in one role. */
export interface Used {
  /** In the days that are looked at. */
  readonly count: number;
  /** In all that are kept. */
  readonly last: Date;
}

/** What rules of a policy, or of all where none is given, did in the last days, today being one of them, by `usageKey`. */
export async function usageOf(
  knex: Knex,
  days: number,
  policy: string | undefined,
): Promise<ReadonlyMap<string, Used>> {
  const rows = (await RuleUsage.query(knex)
    .select('policy', 'rule', 'role')
    .select(knex.raw(`coalesce(sum(count) filter (where day > ${TODAY} - ?::int), 0) as count`, [days]))
    .max('last_at as lastAt')
    .where(policy === undefined ? {} : { policy })
    .groupBy('policy', 'rule', 'role')) as RuleUsage[];
  return new Map(
    rows.map(({ policy, rule, role, count, lastAt }) => [
      usageKey(policy, rule, role),
      { count: Number(count), last: lastAt },
    ]),
  );
}

/** Names have no blanks, so that no two come to the same. */
export const usageKey = (policy: string, rule: string, role: RuleCount['role']): string => `${policy} ${rule} ${role}`;

/** The first day that is kept, as YYYY-MM-DD; undefined where nothing was decided. */
export async function countedSince(knex: Knex): Promise<string | undefined> {
  const [first] = (await RuleUsage.query(knex).select(
    knex.raw("to_char(min(day), 'YYYY-MM-DD') as since"),
  )) as unknown as {
    since: string | null;
  }[];
  return first?.since ?? undefined;
}
