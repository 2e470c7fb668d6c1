import { listsNamed, namesUsed } from '../condition/index.js';
import { isCountryCode } from '../country/index.js';
import type { Prepared } from '../engine/index.js';
import { endingEntries, isAlive, type List, withIncluded } from '../list/index.js';
import { listUses, nameUses, noticeUses, type Policy } from '../policy/index.js';
import { DAYS, formatSpan, type Schedule, spanMinutes } from '../schedule/index.js';
import { type Finding, objectFinding, ruleFinding } from './finding.js';

/** Finds what nothing uses, entries that have expired, lists that hold nothing or everything, and tags nobody puts. */
export function reviewNames(prepared: Prepared): Finding[] {
  const { workspace } = prepared;
  return [
    ...unused(prepared),
    ...[...workspace.lists.values()].flatMap((list) => reviewList(list, prepared)),
    ...[...workspace.policies.values()].flatMap(unknownTags),
    ...[...workspace.schedules.values()].flatMap(longNights),
  ];
}

function unused({ workspace, categories }: Prepared): Finding[] {
  const { policies, lists, applications, schedules, notices, probes, checks } = workspace;
  const used = new Set<string>();
  const use = (kind: string, name: string) => used.add(`${kind} ${name}`);
  const useLists = (names: readonly string[]) => {
    for (const name of names) {
      const list = lists.get(name);
      for (const each of list ? withIncluded(lists, list) : []) use('list', each.name);
    }
  };
  for (const policy of policies.values()) {
    useLists(listUses(policy).map(({ term }) => term.name));
    for (const { term, kind } of nameUses(policy)) use(kind, term.name);
    for (const { name } of noticeUses(policy)) use('notice', name);
    const none = (field: string) =>
      policy.rules.some((rule) =>
        [...rule.when, ...rule.unless].flat().some((test) => test.field === field && asksNone(test)),
      );
    if (none('category')) for (const name of categories.keys()) use('category', name);
    if (none('application')) for (const name of applications.keys()) use('application', name);
  }
  // An application that a used one needs is used, and what both are made of.
  for (const application of applications.values()) {
    for (const { name } of application.needs) use('application', name);
    if (application.category) use('category', application.category.name);
    useLists(listsNamed(application.when).map(({ term }) => term.name));
    for (const { term, kind } of namesUsed(application.when)) use(kind, term.name);
  }
  for (const conditions of categories.values()) useLists(listsNamed(conditions).map(({ term }) => term.name));
  for (const check of checks.values()) for (const { probe } of check.cells) use('probe', probe.name);
  // Applications are a catalogue, most of which no policy speaks of.
  const kinds = { list: lists, category: categories, schedule: schedules, notice: notices };
  return [...Object.entries(kinds), ['probe', checks.size > 0 ? probes : new Map()] as const].flatMap(([kind, all]) =>
    [...all.keys()]
      .filter((name) => !used.has(`${kind} ${name}`))
      .map((name) =>
        objectFinding('unused', 'note', kind, name, {
          what: `Nothing uses the ${kind} \`${name}\``,
          reason: 'No rule, and nothing that a rule names, speaks of it',
          edit: `Name it in a rule, or delete its document`,
        }),
      ),
  );
}

type AnyTest = Policy['rules'][number]['when'][number][number];

const asksNone = (test: AnyTest): boolean =>
  test.values.some(
    (value) => value.type === 'none' || (value.type === 'not' && value.values.some((each) => each.type === 'none')),
  );

function reviewList(list: List, { lists, workspace, at }: Prepared): Finding[] {
  const findings: Finding[] = [];
  if (list.of === 'countries' && isCountryCode(list.name.toUpperCase()))
    findings.push(
      objectFinding('list-like-code', 'warning', 'list', list.name, {
        what: `The list \`${list.name}\` is called like the country ${list.name.toUpperCase()}`,
        reason: 'In `country:` the two letters are the country; `list:` in front means the list',
        edit: 'Give the list a longer name',
      }),
    );
  const expired = endingEntries(list).filter((entry) => !isAlive(entry, at));
  const alive = withIncluded(workspace.lists, list).some((each) => each.entries.some((entry) => isAlive(entry, at)));
  if (expired.length > 0) {
    const [first] = expired;
    findings.push(
      objectFinding('expired-entries', 'note', 'list', list.name, {
        what: `${expired.length === 1 ? 'An entry' : `${expired.length.toLocaleString('en')} entries`} of \`${list.name}\` ${expired.length === 1 ? 'has' : 'have'} expired`,
        reason: `\`${first?.text}\` counted until ${new Date(first?.until ?? 0).toISOString()}`,
        edit: `Take ${expired.length === 1 ? 'it' : 'them'} out, or move \`until\``,
      }),
    );
  }
  if (!alive)
    findings.push(
      objectFinding('empty-list', 'warning', 'list', list.name, {
        what: `The list \`${list.name}\` holds nothing, so it matches nothing`,
        reason: list.entries.length > 0 ? 'All of its entries have expired' : 'It has no entries and includes none',
        edit: 'Add entries, or delete the list and what names it',
      }),
    );
  const set = list.of === 'addresses' ? lists.addresses.get(list.name) : undefined;
  const whole = [set?.four, set?.six].filter((side) => side?.count === 1 && coversAll(side.starts, side.ends));
  if (whole.length > 0)
    findings.push(
      objectFinding('everything-list', 'warning', 'list', list.name, {
        what: `The list \`${list.name}\` holds every ${whole[0]?.family === 4 ? 'IPv4' : 'IPv6'} address`,
        reason: 'An entry such as 0.0.0.0/0 or ::/0 makes the others of no use',
        edit: 'Take that entry out, or remove the condition to match everyone',
      }),
    );
  return findings;
}

const coversAll = (starts: Uint32Array, ends: Uint32Array): boolean =>
  starts.every((word) => word === 0) && ends.every((word) => word === 0xffffffff);

/** Tags that a rule tests and no rule above it sets. */
function unknownTags(policy: Policy): Finding[] {
  const put = new Set<string>();
  return policy.rules.flatMap((rule) => {
    const asked = namesUsed([...rule.when, ...rule.unless]).filter(({ kind }) => kind === 'tag');
    const missing = [...new Set(asked.map(({ term }) => term.name))].filter((name) => !put.has(name));
    if (rule.then.type === 'tag' && rule.stance === 'enforce') for (const tag of rule.then.tags) put.add(tag);
    return missing.map((tag) => {
      const later = policy.rules.find((each) => each.then.type === 'tag' && each.then.tags.includes(tag));
      return ruleFinding('unknown-tag', 'warning', policy.name, rule.name, {
        what: `\`${rule.name}\` tests the tag \`${tag}\`, which no rule above it sets`,
        reason: later ? `\`${later.name}\` puts it further down, or only observes` : 'No rule of the policy puts it',
        edit: later
          ? `Move \`${later.name}\` above \`${rule.name}\`, enforced`
          : `Add a rule above with \`then: {tag: [${tag}]}\`, or mend the name`,
      });
    });
  });
}

/** A night is short; a span that runs over midnight for most of a day was more likely meant the other way round. */
const LONG_NIGHT = 16 * 60;

function longNights({ name, weekly, except }: Schedule): Finding[] {
  const spans = [
    ...weekly.flatMap((all, day) => all.map((span) => ({ span, day: DAYS[day] as string }))),
    ...[...except.values()].flat().map((span) => ({ span, day: 'an exception' })),
  ];
  const found = spans.find(({ span }) => span.end <= span.start && spanMinutes(span) > LONG_NIGHT);
  if (!found) return [];
  const text = formatSpan(found.span);
  return [
    objectFinding('long-night', 'warning', 'schedule', name, {
      what: `The span ${text} of \`${name}\` ends before it starts, so it runs over midnight for ${Math.round(spanMinutes(found.span) / 60)} hours`,
      reason: `On ${found.day} it holds from ${text.slice(0, 5)} up to ${text.slice(6)} of the next day`,
      edit: `Write ${text.slice(6)}-${text.slice(0, 5)} if its ends were turned round`,
    }),
  ];
}
