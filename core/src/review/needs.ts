import { allNeeds } from '../application/index.js';
import { type Condition, type Field, fieldName, namesUsed, type Test } from '../condition/index.js';
import type { Prepared } from '../engine/index.js';
import type { Policy, Rule } from '../policy/index.js';
import { conditionCovers } from './cover/rule.js';
import { testCovers } from './cover/test.js';
import { type Finding, ruleFinding } from './finding.js';

/** The fields that depend on the client only: whoever may use an application uses what it needs, too. */
const CLIENT_FIELDS: readonly Field[] = ['client', 'peer', 'country', 'user', 'group', 'time'];
const MOST_NAMED = 3;

/** Finds applications that are let through and will fail, since another that they need is not. */
export function reviewNeeds(policy: Policy, prepared: Prepared): Finding[] {
  return [...allowedWithout(policy, prepared), ...neededBlocked(policy, prepared)];
}

/** Rules that allow an application by its name, and what it needs is stopped. */
function allowedWithout(policy: Policy, prepared: Prepared): Finding[] {
  return policy.rules.filter(isAllowing).flatMap((rule) =>
    [...new Set(namedIn(rule.when))].flatMap((name) => {
      const known = rule.when.find((condition) => namedIn([condition]).includes(name))?.filter(isOfClient) ?? [];
      const missing = allNeeds(prepared.workspace.applications, name).flatMap((need) => {
        const fate = fateOf(policy, need, known, prepared);
        return fate.allowed ? [] : [{ need, by: fate.by }];
      });
      if (missing.length === 0) return [];
      const shown = inList(missing.map(({ need }) => need));
      const blocking = missing.find(
        ({ by }) => by !== undefined && policy.rules.indexOf(by) < policy.rules.indexOf(rule),
      )?.by;
      const reason =
        blocking === undefined
          ? `\`${name}\` needs ${shown}, and no rule of the policy allows ${missing.length === 1 ? 'it' : 'them'}`
          : `\`${name}\` needs ${shown}, and \`${blocking.name}\` above stops ${missing.length === 1 ? 'it' : 'one of them'}`;
      const needs = missing.map(({ need }) => need);
      return [
        ruleFinding('missing-needs', 'warning', policy.name, rule.name, {
          what: `\`${rule.name}\` allows \`${name}\`, which will not work without ${shown}`,
          reason,
          edit:
            blocking === undefined
              ? `Add ${shown} to the applications of \`${rule.name}\``
              : `Except it from \`${blocking.name}\`, or add ${shown} to \`${rule.name}\` and move that above`,
          ...(blocking === undefined && {
            mend: { type: 'add-values', rule: rule.name, field: 'application', beside: name, values: needs } as const,
          }),
        }),
      ];
    }),
  );
}

/** Rules that block an application by its name, and others need it that a wider rule, or the default, lets through. */
function neededBlocked(policy: Policy, prepared: Prepared): Finding[] {
  const { applications } = prepared.workspace;
  const byName = new Set(policy.rules.filter(isAllowing).flatMap((rule) => namedIn(rule.when)));
  return policy.rules
    .filter((rule) => rule.stance === 'enforce' && rule.then.type === 'block')
    .flatMap((rule) =>
      [...new Set(namedIn(rule.when))].flatMap((need) => {
        const known = rule.when.find((condition) => namedIn([condition]).includes(need))?.filter(isOfClient) ?? [];
        if (fateOf(policy, need, known, prepared).by !== rule) return [];
        const failing = [...applications.keys()].filter(
          (name) =>
            name !== need &&
            !byName.has(name) &&
            allNeeds(applications, name).includes(need) &&
            fateOf(policy, name, known, prepared).allowed,
        );
        if (failing.length === 0) return [];
        const shown = inList(failing);
        return [
          ruleFinding('needed-blocked', 'warning', policy.name, rule.name, {
            what: `\`${rule.name}\` blocks \`${need}\`, without which ${shown} will not work`,
            reason: `${shown} ${failing.length === 1 ? 'is' : 'are'} let through, and ${failing.length === 1 ? 'needs' : 'need'} \`${need}\``,
            edit: `Block ${shown} too, or take \`${need}\` out of \`${rule.name}\``,
            mend: { type: 'add-values', rule: rule.name, field: 'application', beside: need, values: failing },
          }),
        ];
      }),
    );
}

const isAllowing = (rule: Rule): boolean => rule.stance === 'enforce' && rule.then.type === 'allow';
const isOfClient = ({ field }: Test): boolean => CLIENT_FIELDS.includes(field);

/** The applications that conditions name. */
const namedIn = (conditions: readonly Condition[]): string[] =>
  namesUsed(conditions)
    .filter(({ kind }) => kind === 'application')
    .map(({ term }) => term.name);

function inList(names: readonly string[]): string {
  const shown = names.slice(0, MOST_NAMED).map((each) => `\`${each}\``);
  const more = names.length - shown.length;
  return more > 0 ? `${shown.join(', ')} and ${more} more` : shown.join(' and ');
}

/** The rule that decides an application under a policy; undefined: its default. */
interface Fate {
  readonly allowed: boolean;
  readonly by: Rule | undefined;
}

/** By the first rule that surely takes all requests of the application by clients of which `known` holds. */
function fateOf(policy: Policy, name: string, known: Condition, prepared: Prepared): Fate {
  const by = policy.rules.find(
    (rule) => rule.stance === 'enforce' && rule.then.type !== 'tag' && takes(rule, policy, name, known, prepared),
  );
  return { allowed: (by?.then ?? policy.default).type === 'allow', by };
}

function takes(rule: Rule, policy: Policy, name: string, known: Condition, prepared: Prepared): boolean {
  if (rule.limit !== undefined || rule.unless.length > 0) return false;
  const identified = prepared.applications.get(name) ?? [];
  return (
    rule.when.length === 0 ||
    rule.when.some((condition) => {
      const clients = condition.filter(isOfClient);
      const byName = condition.filter(({ field }) => field === 'application');
      const others = condition.filter((test) => !isOfClient(test) && test.field !== 'application');
      return (
        clients.every((test) =>
          known.some((own) => fieldName(own) === fieldName(test) && testCovers(test, own, prepared, policy)),
        ) &&
        byName.every((test) => namedIn([[test]]).includes(name)) &&
        (others.length === 0 ||
          (identified.length > 0 && identified.every((inner) => conditionCovers(others, inner, prepared, policy))))
      );
    })
  );
}
