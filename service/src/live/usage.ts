import type { RuleCount } from '@jade-fence/contract';
import type { Knex } from 'knex';
import { RuleUsage } from '../model/rule-usage.js';

/** This many days are kept. */
export const MOST_USAGE_DAYS = 400;

/** What rules did since it was written down last. */
export type UsageGrowth = Pick<RuleCount, 'policy' | 'rule' | 'role' | 'count'>;

const DAY = "(to_timestamp(? / 1000.0) at time zone 'UTC')::date";
// Rows of one rule are put together: one statement may touch a row once.
const ADD = `
  insert into rule_usage (policy, rule, role, day, count, last_at)
  select policy, rule, role, ${DAY}, sum(count), to_timestamp(? / 1000.0)
  from jsonb_to_recordset(?::jsonb) as grown(policy text, rule text, role text, count bigint)
  group by policy, rule, role
  order by policy, rule, role
  on conflict (policy, rule, role, day) do update
  set count = rule_usage.count + excluded.count, last_at = greatest(rule_usage.last_at, excluded.last_at)`;

/** Adds what rules did to the day of `now`, in milliseconds since 1970, and lets go of days that are no more kept. */
export async function addUsage(knex: Knex, now: number, rows: readonly UsageGrowth[]): Promise<void> {
  await knex.raw(ADD, [now, now, JSON.stringify(rows)]);
  await knex.raw(`delete from rule_usage where day < ${DAY} - ?::int`, [now, MOST_USAGE_DAYS]);
}

/** What one rule did in one role. */
export interface Used {
  /** In the days that are looked at. */
  readonly count: number;
  /** In all that are kept. */
  readonly last: Date;
}

/** What rules did in the last days before `now`, in milliseconds since 1970, by `usageKey`. */
export async function usageOf(knex: Knex, now: number, days: number): Promise<ReadonlyMap<string, Used>> {
  const rows = (await RuleUsage.query(knex)
    .select('policy', 'rule', 'role')
    .select(knex.raw(`coalesce(sum(count) filter (where day > ${DAY} - ?::int), 0) as count`, [now, days]))
    .max('last_at as lastAt')
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
