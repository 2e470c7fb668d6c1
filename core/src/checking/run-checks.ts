import type { Cell, Check } from '../check/index.js';
import {
  createRouter,
  type ExplainedRule,
  type Explanation,
  explain,
  type Prepared,
  type Router,
  subjectOf,
} from '../engine/index.js';
import type { Mend, Verdict } from '../policy/index.js';
import { probeRequest } from './probe-request.js';

/** The result of a cell of a check: plain data, for people and programs. */
export interface CheckedCell {
  readonly probe: string;
  readonly destination: string;
  readonly expected: { readonly verdict: Verdict | 'uncovered'; readonly rule: string | null };
  readonly verdict: Verdict | 'uncovered';
  readonly policy: string | null;
  /** The rule that decided, or `default`; null where no policy covers the request. */
  readonly rule: string | null;
  readonly holds: boolean;
  /** Why the answer is what it is, in a sentence. */
  readonly summary: string;
  /** Where it is not what was expected: edits that would each make it so. */
  readonly mends: readonly CellMend[];
}

export interface CellMend {
  readonly what: string;
  /** The same for programs, in the policy that answered; null where it is none that they can make. */
  readonly mend: Mend | null;
}

export interface CheckedGrid {
  readonly check: string;
  readonly note: string | null;
  readonly probes: readonly string[];
  readonly destinations: readonly string[];
  readonly cells: readonly CheckedCell[];
  readonly failing: number;
}

/** Runs checks on a workspace. Checks without a time of their own are made at `now`, in milliseconds since 1970. */
export function runChecks(prepared: Prepared, checks: Iterable<Check>, now: number): CheckedGrid[] {
  const router = createRouter(prepared);
  return [...checks].map((check) => {
    const cells = check.cells.map((cell) => runCell({ prepared, router, check, now }, cell));
    return {
      check: check.name,
      note: check.note ?? null,
      probes: [...new Set(check.cells.map(({ probe }) => probe.name))],
      destinations: [...check.destinations.keys()],
      cells,
      failing: cells.filter(({ holds }) => !holds).length,
    };
  });
}

interface Running {
  readonly prepared: Prepared;
  readonly router: Router;
  readonly check: Check;
  readonly now: number;
}

function runCell({ prepared, router, check, now }: Running, cell: Cell): CheckedCell {
  const probe = prepared.workspace.probes.get(cell.probe.name);
  const destination = check.destinations.get(cell.destination);
  // A workspace that holds has both.
  if (!probe || !destination) throw new Error(`check ${check.name} names what is not there`);
  const request = probeRequest(probe, destination, check.at ?? now);
  const policy = check.policy ? prepared.workspace.policies.get(check.policy.name) : router.route(request);
  const explanation = policy && explain(policy, subjectOf(request, policy, prepared, probe.country), prepared);
  const verdict = explanation?.verdict ?? 'uncovered';
  const rule = explanation ? (explanation.decidedBy ?? 'default') : null;
  const holds = verdict === cell.verdict && (cell.rule === undefined || cell.rule === rule);
  return {
    probe: probe.name,
    destination: cell.destination,
    expected: { verdict: cell.verdict, rule: cell.rule ?? null },
    verdict,
    policy: policy?.name ?? null,
    rule,
    holds,
    summary: explanation?.summary ?? 'No policy covers this request.',
    mends: holds ? [] : mendsOf(cell, explanation),
  };
}

/** The edits that would each make the answer as expected: a move above what overtakes a rule, first, or that one be enforced. */
function mendsOf(cell: Cell, explanation: Explanation | undefined): CellMend[] {
  if (explanation === undefined)
    return cell.verdict === 'uncovered'
      ? []
      : [{ what: 'Let a policy cover the destination’s host or the probe’s address.', mend: null }];
  const fits = (rule: ExplainedRule) =>
    rule.then === cell.verdict && (cell.rule === undefined || rule.rule === cell.rule);
  const single = explanation.rules.filter(fits).flatMap((rule) => {
    const [change, ...others] = rule.changes;
    return change === undefined || others.length > 0 ? [] : [{ rule: rule.rule, change }];
  });
  const moves = single.flatMap(({ rule, change }): CellMend[] =>
    change.type === 'above'
      ? [
          {
            what: `Move rule \`${rule}\` above \`${change.rule}\`.`,
            mend: { type: 'move-above', rule, above: change.rule },
          },
        ]
      : [],
  );
  const stances = single.flatMap(({ rule, change }): CellMend[] =>
    change.type === 'stance'
      ? [
          {
            what: `Let rule \`${rule}\` be enforced; its stance is ${change.stance}.`,
            mend: { type: 'set', rule, key: 'stance' },
          },
        ]
      : [],
  );
  return [...moves, ...stances];
}
