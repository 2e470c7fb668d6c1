import type { DuckDBConnection } from '@duckdb/node-api';
import { largeLists, largeRules } from '../large/workspace.js';
import { conditionSql } from './condition.js';

/** How many requests a rule decided, observed, lost to rules above it, and could not be judged on. */
export interface RuleCounts {
  readonly rule: string;
  readonly decided: number;
  readonly observed: number;
  readonly overtaken: number;
  readonly blind: number;
}

/** Replays the log by SQL: the verdict of each request is kept, and counted by rule, by country and by host. */
export function sqlReplay(connection: DuckDBConnection, rules: number): () => Promise<RuleCounts[]> {
  const all = largeRules(rules);
  const numbers = new Map([...largeLists().keys()].map((name, number) => [name, number]));
  const conditions = all.map((rule) => conditionSql(rule, (name) => numbers.get(name) as number));
  const decides = all
    .map(({ stance }, index) => (stance === 'observe' ? '' : `WHEN r${index} THEN ${index}`))
    .filter((each) => each !== '');
  const judge = `
    CREATE OR REPLACE TEMP TABLE judged AS
    WITH listed AS (
      SELECT id, bit_or(1::UBIGINT << list) AS lists FROM clients JOIN lists ON address BETWEEN first AND last GROUP BY id
    ), located AS (
      SELECT id, CASE WHEN address <= last THEN code END AS country FROM clients ASOF LEFT JOIN countries ON address >= first
    ), client AS (
      SELECT id, address AS client, coalesce(lists, 0) AS lists, coalesce(country, '') AS country
      FROM clients LEFT JOIN listed USING (id) LEFT JOIN located USING (id)
    ), matched AS (
      SELECT log.host, country, ${conditions.map((each, index) => `${each} AS r${index}`).join(',\n')}
      FROM (SELECT client AS id, host, path, method, agent FROM log) AS log JOIN client USING (id)
    )
    SELECT *, CASE ${decides.join(' ')} ELSE ${all.length} END AS decided FROM matched`;
  const counts = `SELECT ${all
    .map(({ stance }, index) =>
      [
        `count(*) FILTER (decided = ${index})`,
        stance === 'observe' ? `count(*) FILTER (r${index} AND decided > ${index})` : '0',
        `count(*) FILTER (r${index} AND decided < ${index})`,
        `count(*) FILTER (r${index} IS NULL)`,
      ].join(', '),
    )
    .join(',\n')} FROM judged`;
  const blocks = all.flatMap(({ then }, index) => (then === 'block' ? [index] : [])).join(', ');
  const shares = (column: string) =>
    `SELECT ${column}, count(*), count(*) FILTER (decided IN (${blocks})) FROM judged GROUP BY ${column}`;
  return async () => {
    await connection.run(judge);
    const row = (await connection.runAndReadAll(counts)).getRows()[0] ?? [];
    for (const column of ['country', 'host']) await connection.runAndReadAll(shares(column));
    return all.map(({ rule }, index) => {
      const [decided, observed, overtaken, blind] = row.slice(4 * index, 4 * index + 4).map(Number);
      return { rule, decided, observed, overtaken, blind } as RuleCounts;
    });
  };
}
