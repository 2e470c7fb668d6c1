import { formatAddress, isSpecialPurpose } from '../address/index.js';
import { type Condition, type Field, fieldName, partTerms, termsOf, valuesOf } from '../condition/index.js';
import type { Prepared } from '../engine/index.js';
import { aliveValues } from '../list/index.js';
import { type Policy, type Rule, trustOf } from '../policy/index.js';
import { isEmpty } from '../resolution/index.js';
import { type Finding, ruleFinding } from './finding.js';

const DAY = 86_400_000;
/** Address space changes hands all the time; older data than this is reported. */
const OLD_DATA = 90 * DAY;

export interface RulesReviewed {
  readonly prepared: Prepared;
  /** The day of the country data in force, in milliseconds since 1970; undefined where it is not known. */
  readonly countryDate: number | undefined;
}

/** Finds single rules that require what they cannot get. */
export function reviewRules(policy: Policy, { prepared, countryDate }: RulesReviewed): Finding[] {
  return [
    ...encrypted(policy),
    ...countryData(policy, prepared, countryDate),
    ...destinations(policy, prepared),
    ...chosenDestinations(policy),
    ...publicTrust(policy, prepared),
    ...caseKept(policy),
    ...coversNothing(policy),
    ...bareListNames(policy, prepared),
  ];
}

const acts = (rule: Rule): boolean => rule.stance !== 'off';
const allConditions = (rule: Rule): readonly Condition[] => [...rule.when, ...rule.unless];

/** Fields that a tunnel does not show. */
const HIDDEN: readonly Field[] = ['path', 'url', 'query', 'header', 'cookie', 'referrer', 'agent'];

/** Encrypted traffic to the outside shows its host and port, and nothing else of its target. */
function encrypted(policy: Policy): Finding[] {
  if (policy.covers.clients.length === 0) return [];
  return policy.rules.filter(acts).flatMap((rule) => {
    const hidden = [
      ...new Set(
        allConditions(rule)
          .flat()
          .filter((test) => HIDDEN.includes(test.field))
          .map(fieldName),
      ),
    ];
    // A rule with `if-blind: match` accounts for that already.
    if (hidden.length === 0 || rule.ifBlind === 'match') return [];
    const shown = hidden.join(' and ');
    return [
      ruleFinding('unseen-when-encrypted', 'warning', policy.name, rule.name, {
        what: `\`${rule.name}\` cannot see the ${shown} of encrypted traffic`,
        reason: `\`${policy.name}\` covers clients that go out, and a tunnel shows no more than its host and port`,
        edit:
          rule.then.type === 'block'
            ? `Write \`if-blind: match\` to act on unseen fields too, or test the host instead`
            : 'Ask for the host, a category or an application by its hosts instead',
        ...(rule.then.type === 'block' && {
          mend: { type: 'set', rule: rule.name, key: 'if-blind', value: 'match' } as const,
        }),
      }),
    ];
  });
}

const COUNTRIES: readonly Field[] = ['country', 'destination-country'];

function countryData(policy: Policy, { country, at }: Prepared, date: number | undefined): Finding[] {
  const asking = policy.rules.filter(
    (rule) =>
      acts(rule) &&
      allConditions(rule)
        .flat()
        .some((test) => COUNTRIES.includes(test.field)),
  );
  return asking.flatMap((rule) => {
    if (country.data === undefined)
      return [
        ruleFinding('no-country-data', 'warning', policy.name, rule.name, {
          what: `\`${rule.name}\` tests the country, and no country data is loaded`,
          reason: 'Without it the country of an address is not seen, so the rule is blind',
          edit: 'Load it with `jade-fence country import FILE`',
        }),
      ];
    if (date === undefined || at - date <= OLD_DATA) return [];
    const days = Math.floor((at - date) / DAY);
    return [
      ruleFinding('old-country-data', 'warning', policy.name, rule.name, {
        what: `\`${rule.name}\` tests the country, and the country data is ${days} days old`,
        reason: `It is of ${new Date(date).toISOString().slice(0, 10)}; networks move between countries all the time`,
        edit: 'Load newer data with `jade-fence country import FILE`',
      }),
    ];
  });
}

const DESTINATIONS: readonly Field[] = ['destination', 'destination-country'];

/** Most logs and gateways do not show where a request goes, so that rules about it need resolutions. */
function destinations(policy: Policy, { resolutions }: Prepared): Finding[] {
  const rule = policy.rules.find(
    (each) =>
      acts(each) &&
      allConditions(each)
        .flat()
        .some(({ field }) => DESTINATIONS.includes(field)),
  );
  if (rule === undefined) return [];
  if (!policy.destinations.resolve)
    return [
      ruleFinding('destination-not-resolved', 'note', policy.name, rule.name, {
        what: `\`${rule.name}\` tests where requests go, and sees only what requests show of it`,
        reason: 'Few logs and gateways show the address of the destination; without it the rule is blind',
        edit: 'Write `destinations: {resolve: true}` in the policy, so that the resolutions of the host are used',
      }),
    ];
  if (!isEmpty(resolutions)) return [];
  return [
    ruleFinding('no-resolutions', 'warning', policy.name, rule.name, {
      what: `\`${rule.name}\` tests where requests go, and no host is resolved yet`,
      reason: 'Where a request does not show its destination, the addresses of its host are not known either',
      edit: 'Load a zone, hosts or CSV file with `jade-fence resolution import FILE`, or resolve the hosts of a log with `jade-fence resolve run --log LOG`',
    }),
  ];
}

/** Fields that are of a host; who names it does not trust the owner of any name. */
const OF_HOST: readonly Field[] = ['host', 'url', 'category', 'application'];

/**
 * Whoever owns a name chooses its addresses, and of several any may match: one that is allowed, or spared, beside the one
 * that is used, walks around a rule about hosts of any name.
 */
function chosenDestinations(policy: Policy): Finding[] {
  // Sites of one's own have the addresses that one gives them.
  if (!policy.destinations.resolve || policy.covers.clients.length === 0) return [];
  return policy.rules.flatMap((rule) => {
    if (!acts(rule) || rule.then.type === 'tag') return [];
    const isAllow = rule.then.type === 'allow';
    const isEased = (condition: Condition, byMatch: boolean) =>
      !condition.some(({ field }) => OF_HOST.includes(field)) &&
      condition.some(
        (test) => DESTINATIONS.includes(test.field) && partTerms(test)[byMatch ? 'asked' : 'left'].length > 0,
      );
    const isFound =
      rule.when.some((condition) => isEased(condition, isAllow)) ||
      rule.unless.some((condition) => isEased(condition, !isAllow));
    if (!isFound) return [];
    return [
      ruleFinding('chosen-destination', 'warning', policy.name, rule.name, {
        what: `\`${rule.name}\` ${isAllow ? 'allows' : 'spares'} requests by one address of their host, whatever the host is called`,
        reason: 'Whoever owns a name chooses its addresses, and of several addresses one is enough',
        edit: isAllow
          ? 'Name the hosts beside the destination, or block by the destinations that are refused'
          : 'List the destinations that are refused, in place of those that are not',
      }),
    ];
  });
}

/** A trusted address can claim any client for its requests. */
function publicTrust(policy: Policy, { workspace, at }: Prepared): Finding[] {
  const ranges = trustOf(policy.client).flatMap((term) => {
    if (term.type === 'range') return [term.range];
    const list = workspace.lists.get(term.name);
    return list ? aliveValues(workspace.lists, list, 'addresses', at) : [];
  });
  const open = ranges.find(({ first, last }) => !isSpecialPurpose(first) || !isSpecialPurpose(last));
  if (!open) return [];
  return [
    ruleFinding('public-trust', 'warning', policy.name, null, {
      what: `\`${policy.name}\` trusts forwarding headers from public addresses, such as ${formatAddress(open.first)}`,
      reason: 'Whoever can send from a trusted address can make up the client, and so pass every rule about it',
      edit: 'Trust the addresses of your own proxies alone, one by one',
    }),
  ];
}

/** A server that does not mind the case of letters serves what the rule stops under another spelling. */
function caseKept(policy: Policy): Finding[] {
  if (policy.paths.case === 'ignore') return [];
  const isOnPath = ({ then, when }: Rule) =>
    then.type === 'block' && when.flat().some(({ field }) => field === 'path' || field === 'url');
  const rule = policy.rules.find((each) => acts(each) && isOnPath(each));
  if (rule === undefined) return [];
  return [
    ruleFinding('case-kept', 'note', policy.name, null, {
      what: `\`${policy.name}\` blocks paths such as those of \`${rule.name}\` in their own spelling only`,
      reason:
        'Where the servers behind it do not mind the case of letters, `/Admin` is `/admin` to them and not to the rules',
      edit: 'Write `paths: {case: ignore}` in the policy, if its servers are like that',
    }),
  ];
}

function coversNothing(policy: Policy): Finding[] {
  if (policy.covers.hosts.length + policy.covers.clients.length > 0) return [];
  return [
    ruleFinding('covers-nothing', 'warning', policy.name, null, {
      what: `\`${policy.name}\` covers nothing, so that no live request goes to it`,
      reason: 'It has neither hosts nor clients under `covers`; only a replay that names it runs it',
      edit: 'Write `covers: {hosts: […]}`, `covers: {clients: […]}`, or `stance: off` if that is intended',
    }),
  ];
}

/** The name of a list by itself is a name like others where a field takes names. */
function bareListNames(policy: Policy, { workspace }: Prepared): Finding[] {
  return policy.rules.filter(acts).flatMap((rule) => {
    const tests = allConditions(rule).flat();
    const names = tests.flatMap((test) =>
      test.field === 'user' || test.field === 'group'
        ? valuesOf(test).flatMap((value) => termsOf(value).flatMap((term) => (term.type === 'user' ? [term.user] : [])))
        : [],
    );
    return [...new Set(names)]
      .filter((name) => workspace.lists.get(name)?.of === 'users')
      .map((name) =>
        ruleFinding('bare-list-name', 'warning', policy.name, rule.name, {
          what: `\`${rule.name}\` tests the user or group \`${name}\`, and there is a list of that name`,
          reason: 'Among names of users, a list is written with `list:` in front',
          edit: `Write \`list:${name}\` for the list`,
        }),
      );
  });
}
