import { decodeTable, encodeTable } from '@jade-fence/core/column';
import { compilePlan, evaluate, type Prepared, prepare, subjectOf } from '@jade-fence/core/engine';
import type { Policy } from '@jade-fence/core/policy';
import { type Report, type RuleReport, Run } from '@jade-fence/core/replay';
import { chunksOf, largeLog, lineOf } from './large/log.js';
import { largeCountryData, largeWorkspace } from './large/workspace.js';
import { type Figure, measure, type Pair } from './measure.js';
import { largeDatabase } from './sql/database.js';
import { type RuleCounts, sqlReplay } from './sql/replay.js';

const REQUESTS = 1_000_000;
/** The plain interpreter judges this many; its time is scaled to as many as the figure's. */
const SAMPLE = 20_000;
const AT = Date.UTC(2026, 10, 9);
const UNIT = 'ms for 1,000,000 stored requests';

let stored: Uint8Array[] | undefined;
const states = new Map<number, Prepared>();

/** The log as it is stored, before compression. */
function storedLog(): Uint8Array[] {
  stored ??= chunksOf(largeLog(REQUESTS)).map((table) => encodeTable(table));
  return stored;
}

function preparedState(rules: number): Prepared {
  const known = states.get(rules) ?? prepare(largeWorkspace(rules), { countryData: largeCountryData(), at: AT });
  states.set(rules, known);
  return known;
}

const policyOf = (prepared: Prepared): Policy => prepared.workspace.policies.get('large') as Policy;

/** Decodes and judges the whole log, with its verdicts and report by rule, country and host, on what was prepared before. */
function replay(rules: number, firstMatchOnly = false): () => Report {
  const prepared = preparedState(rules);
  prepared.shared();
  const chunks = storedLog();
  return () => {
    const run = new Run(prepared, policyOf(prepared), { firstMatchOnly, breakdowns: ['country', 'host'] });
    for (const chunk of chunks) run.chunk(decodeTable(chunk));
    return run.report();
  };
}

export function replayAgainstInterpreter(): Pair {
  const prepared = preparedState(50);
  const policy = policyOf(prepared);
  const sample = [...largeLog(SAMPLE)];
  return {
    name: 'replay-50-rules',
    unit: UNIT,
    figure: replay(50),
    floorName: `a plain interpreter, by ${SAMPLE.toLocaleString('en')} of them`,
    floor: () => {
      for (const request of sample) evaluate(policy, subjectOf(request, policy, prepared), prepared);
    },
    floorTimes: SAMPLE / REQUESTS,
  };
}

export function replayAgainstParsing(): Pair {
  const lines = Array.from(largeLog(REQUESTS), lineOf);
  return {
    name: 'replay-50-rules-vs-parse',
    unit: UNIT,
    figure: replay(50),
    floorName: 'JSON.parse alone',
    floor: () => {
      for (const line of lines) JSON.parse(line);
    },
  };
}

/** The same as SQL, in a column store that runs in this process; the counts of every rule are held equal first. */
export async function replayAgainstSql(): Promise<Figure> {
  const connection = await largeDatabase(REQUESTS);
  const bySql = sqlReplay(connection, 50);
  const ours = replay(50);
  const differs = differenceOf(ours().policies[0]?.rules ?? [], await bySql());
  if (differs !== undefined) throw new Error(`The counts of a rule differ: ${differs}`);
  const figure = await measure({
    name: 'replay-50-rules-vs-sql',
    unit: UNIT,
    figure: ours,
    floorName: 'SQL in an embedded column store, with two threads',
    floor: bySql,
  });
  connection.closeSync();
  return figure;
}

function differenceOf(ours: readonly RuleReport[], theirs: readonly RuleCounts[]): string | undefined {
  const plain = ours.map(({ rule, decided, observed, overtaken, blind }) =>
    JSON.stringify({ rule, decided, observed, overtaken, blind }),
  );
  const index = plain.findIndex((text, at) => text !== JSON.stringify(theirs[at]));
  return index < 0 ? undefined : `${plain[index]}, ${JSON.stringify(theirs[index])}`;
}

export const replayOfMoreRules = (rules: number) => (): Pair => ({
  name: `replay-${rules}-rules`,
  unit: UNIT,
  figure: replay(rules),
  floorName: 'the same with 50 rules',
  floor: replay(50),
});

export const replayOfAllMatches = (): Pair => ({
  name: 'replay-all-matches',
  unit: `${UNIT}, 200 rules`,
  figure: replay(200),
  floorName: 'first match only',
  floor: replay(200, true),
});

export function compilePair(): Pair {
  const workspace = largeWorkspace(50);
  const countryData = largeCountryData();
  return {
    name: 'compile',
    unit: 'ms for 50 rules, 160,000 list entries, 300,000 country networks',
    figure: () => compileAll(prepare(workspace, { countryData, at: AT })),
    floorName: 'one replay of 1,000,000 requests',
    floor: replay(50),
  };
}

export function recompilePair(): Pair {
  const countryData = largeCountryData();
  const workspace = largeWorkspace(50);
  const edited = largeWorkspace(50, '{rule: edited, when: {client: [list-7, 192.0.2.0/24], country: PT}, then: block}');
  const previous = prepare(workspace, { countryData, at: AT });
  compileAll(previous);
  return {
    name: 'recompile-one-rule',
    unit: 'ms after an edit of one rule',
    figure: () => compileAll(prepare(edited, { countryData, at: AT, previous })),
    floorName: 'the first compile',
    floor: () => compileAll(prepare(workspace, { countryData, at: AT })),
  };
}

function compileAll(prepared: Prepared): void {
  prepared.shared();
  compilePlan(policyOf(prepared), prepared);
}
