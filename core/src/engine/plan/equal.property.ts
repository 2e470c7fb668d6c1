import fc from 'fast-check';
import { expect } from 'vitest';
import { SlidingWindows } from '../../limit/index.js';
import { ChunkBuilder } from '../../log/index.js';
import type { Policy } from '../../policy/index.js';
import { Run, Verdicts } from '../../replay/index.js';
import type { Request } from '../../request/index.js';
import type { Decision } from '../decision.js';
import type { Prepared } from '../prepared.js';
import { evaluate } from '../reference/evaluate.js';
import { PlainLimits } from '../reference/plain-limits.arbitrary.js';
import { subjectOf } from '../subject.js';
import { decisionOf, Judge } from './judge.js';
import type { AskLimit } from './outcome-table.js';
import { compilePlan } from './plan.js';
import { preparedOf, request } from './workspace.arbitrary.js';

const requests = fc.array(request, { minLength: 1, maxLength: 12 });
type Documents = fc.Arbitrary<unknown[]>;

/** The fast engine decides as the reference does, request by request, for workspaces of these documents. */
export const decidesAlike = (documents: Documents) =>
  fc.property(documents, requests, fc.boolean(), (all, made, withCountries) => {
    const prepared = preparedOf(all, withCountries);
    const ordered = inTime(made);
    expect(byPlan(prepared, ordered)).toEqual(byReference(prepared, ordered));
  });

/** A replay decides and counts as the reference does, whatever the order of the log and however it is cut into chunks. */
export const replaysAlike = (documents: Documents) =>
  fc.property(documents, requests, fc.nat(), fc.boolean(), (all, made, cut, forgetful) => {
    const prepared = preparedOf(all);
    const ordered = inTime(made);
    const expected = byReference(prepared, ordered);
    const { kept, report } = replayed(prepared, made, cut % made.length, forgetful);
    const rows = made.map((each) => ordered.indexOf(each));
    expect(kept).toEqual(
      rows.map((at) =>
        (expected[at] as string[])
          .filter((line) => !/ (?:passed|off) $/.test(line))
          .map(withoutEffect)
          .sort(),
      ),
    );
    const count = (role: string, name: string) =>
      expected.flat().filter((line) => line.startsWith(`${name} ${role}`)).length;
    for (const rule of report.policies[0]?.rules ?? []) {
      expect([rule.decided, rule.observed, rule.tagged, rule.overtaken]).toEqual(
        ['decided', 'observed', 'tagged', 'overtaken'].map((role) => count(role, rule.rule)),
      );
      expect(rule.blind).toBe(
        expected.flat().filter((line) => line.startsWith(`${rule.rule} `) && !line.endsWith(' ')).length,
      );
    }
  });

const policyOf = (prepared: Prepared): Policy => prepared.workspace.policies.get('p') as Policy;

/** The requests in the order of their times, those without one first; ties as they came. */
const inTime = (requests: readonly Request[]): Request[] =>
  requests.toSorted((a, b) => (a.time ?? Number.NEGATIVE_INFINITY) - (b.time ?? Number.NEGATIVE_INFINITY) || 0);

/** A decision in a form that is read with ease, and does not mind the order of unseen fields. */
function shown({ policy, verdict, effect, met, decidedBy, tags, record, outcomes }: Decision): string[] {
  const by = policy.rules[decidedBy]?.name ?? 'default';
  return [
    `${verdict}, ${effect} by ${by}${met ? ', met' : ''}; record ${record}; tags ${tags.join()}`,
    ...outcomes.map(({ role, unseen }, index) => `${policy.rules[index]?.name} ${role} ${[...unseen].sort().join()}`),
  ];
}

function byReference(prepared: Prepared, requests: readonly Request[]): string[][] {
  const limits = new PlainLimits();
  const policy = policyOf(prepared);
  return requests.map((each) => shown(evaluate(policy, subjectOf(each, policy, prepared), prepared, limits)));
}

function byPlan(prepared: Prepared, requests: readonly Request[]): string[][] {
  const policy = policyOf(prepared);
  const judge = new Judge(compilePlan(policy, prepared));
  const windows = new Map<number, SlidingWindows>();
  const ask: AskLimit = (rule, limit, { key, time, amount }) => {
    const own = windows.get(rule) ?? new SlidingWindows(limit);
    windows.set(rule, own);
    return own.add(key, time, amount);
  };
  return requests.map((each) => shown(decisionOf(judge.plan, judge.one(each, ask))));
}

/** Replays the requests in two chunks; says what is kept of each. */
function replayed(prepared: Prepared, made: readonly Request[], cut: number, forgetful: boolean) {
  const run = new Run(prepared, policyOf(prepared), forgetful ? { mostWords: 0 } : {});
  const chunks = [made.slice(0, cut), made.slice(cut)].filter((part) => part.length > 0);
  const tables = chunks.map((part) => {
    const builder = new ChunkBuilder();
    part.forEach((each, index) => {
      builder.add(each, index + 1);
    });
    return run.chunk(builder.build());
  });
  for (const [number, table] of run.resolve()) tables[number] = table;
  const kept = tables.flatMap((table, number) => {
    const verdicts = new Verdicts(table as never);
    return (chunks[number] as Request[]).map((_, row) => keptLines(verdicts, row, run));
  });
  return { kept, report: run.report() };
}

function keptLines(verdicts: Verdicts, row: number, run: Run): string[] {
  const outcome = verdicts.outcome(row);
  if (outcome === undefined) return [];
  const name = (slot: number) => run.slots[slot]?.rule ?? 'default';
  const unseen = new Map(outcome.blind.map((each) => [each.slot, each.unseen.toSorted().join()]));
  const line = (role: string, slot: number) => `${name(slot)} ${role} ${unseen.get(slot) ?? ''}`;
  const roles = (['observed', 'tagged', 'overtaken'] as const).flatMap((role) =>
    outcome[role].map((slot) => line(role, slot)),
  );
  const acted = new Set([outcome.slot, ...outcome.observed, ...outcome.tagged, ...outcome.overtaken]);
  const blind = outcome.blind.filter(({ slot }) => !acted.has(slot)).map(({ slot }) => line('blind', slot));
  const decided = name(outcome.slot) === 'default' ? [] : [line('decided', outcome.slot)];
  return [`${outcome.verdict} by ${name(outcome.slot)}`, ...decided, ...roles, ...blind].sort();
}

/** What a replay keeps of a decision's first line. */
const withoutEffect = (line: string): string =>
  line.replace(/^(\w+), \w+ by ([\w-]+)(?:, met)?; record .*$/, '$1 by $2');
