import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseAddress } from '../address/index.js';
import { createRouter, evaluate, type Prepared, prepare, subjectOf } from '../engine/index.js';
import type { Policy } from '../policy/index.js';
import { makeRequest, type Request } from '../request/index.js';
import { readWorkspace } from '../workspace/index.js';
import { reviewRedirects } from './redirect.js';

const HOSTS = ['a.example', 'b.example', 'why.example'] as const;
const PATHS = ['/', '/why'] as const;
const CLIENTS = ['192.0.2.1', '192.0.2.2', '192.0.2.3'] as const;
const SCHEMES = ['http', 'https'] as const;
const METHODS = ['GET', 'POST'] as const;

const some = <T extends string>(values: readonly T[]) =>
  fc
    .subarray([...values], { minLength: 1 })
    .chain((chosen) => fc.constantFrom(`[${chosen.join(', ')}]`, `{not: [${chosen.join(', ')}]}`));
const condition = fc
  .record(
    { host: some(HOSTS), path: some(PATHS), client: some(CLIENTS), scheme: some(SCHEMES), method: some(METHODS) },
    { requiredKeys: [] },
  )
  .map((fields) => Object.entries(fields).map(([name, value]) => `${name}: ${value}`))
  .filter((fields) => fields.length > 0)
  .map((fields) => `{${fields.join(', ')}}`);
const target = fc
  .record({ scheme: fc.constantFrom(...SCHEMES), host: fc.constantFrom(...HOSTS), path: fc.constantFrom(...PATHS) })
  .map(({ scheme, host, path }) => `${scheme}://${host}${path}`);
const rule = fc
  .record({
    when: fc.option(condition, { nil: undefined }),
    unless: fc.option(condition, { nil: undefined }),
    then: fc.oneof(
      fc.constantFrom('allow', 'block'),
      fc
        .tuple(target, fc.constantFrom('', ', status: 307'))
        .map(([to, status]) => `{redirect: {to: "${to}"${status}}}`),
    ),
  })
  .map(
    ({ when, unless, then }) => `${when ? `when: ${when}, ` : ''}${unless ? `unless: ${unless}, ` : ''}then: ${then}`,
  );
const policy = (name: string, covers: string) =>
  fc
    .record({ rules: fc.array(rule, { maxLength: 4 }), byDefault: fc.constantFrom('allow', 'block') })
    .map(({ rules, byDefault }) => {
      const lines = rules.map((each, at) => `  - {rule: r${at}, ${each}}\n`).join('');
      return `policy: ${name}\ncovers: {${covers}}\nclient: {from: peer}\ndefault: ${byDefault}\nrules:${lines === '' ? ' []' : ''}\n${lines}`;
    });
const workspace = fc
  .tuple(
    policy('first', 'hosts: [a.example]'),
    policy('second', 'hosts: [b.example]'),
    policy('outward', 'clients: [192.0.2.0/24]'),
  )
  .map((all) => all.join('---\n'));

/** Every request that there can be, as far as rules here can distinguish requests. */
const REQUESTS = CLIENTS.flatMap((client) =>
  HOSTS.flatMap((host) =>
    PATHS.flatMap((path) =>
      SCHEMES.flatMap((scheme) =>
        METHODS.map((method) => makeRequest({ peer: parseAddress(client), host, path, scheme, method })),
      ),
    ),
  ),
);

interface Outcome {
  readonly policy: Policy;
  readonly rule: string | undefined;
  readonly type: string;
  readonly to: string | undefined;
  readonly keepsMethod: boolean;
}

function decide(request: Request, prepared: Prepared): Outcome | undefined {
  const policy = createRouter(prepared).route(request);
  if (policy === undefined) return undefined;
  const { decidedBy } = evaluate(policy, subjectOf(request, policy, prepared), prepared);
  const rule = policy.rules[decidedBy];
  const action = rule?.then ?? policy.default;
  const to = action.type === 'redirect' ? action.to : undefined;
  return { policy, rule: rule?.name, type: action.type, to, keepsMethod: 'status' in action && action.status === 307 };
}

/** Whether a client that is sent to the target comes to see a page in the end. */
function arrives(to: string, keepsMethod: boolean, client: Request, prepared: Prepared): boolean {
  let [next, hops, keeps] = [to, 0, keepsMethod];
  for (; hops < 30; hops++) {
    const { protocol, hostname, pathname } = new URL(next);
    const request = makeRequest({
      ...{ peer: client.peer, method: keeps ? client.method : 'GET', scheme: protocol.slice(0, -1) },
      ...{ host: hostname, path: pathname },
    });
    const found = decide(request, prepared);
    if (found === undefined || found.type === 'allow') return true;
    if (found.to === undefined) return false;
    next = found.to;
    keeps &&= found.keepsMethod;
  }
  return false;
}

it('says of a redirect that it is stopped just where nobody who is sent there arrives', () => {
  let [shown, arrived, missed] = [0, 0, 0];
  fc.assert(
    fc.property(workspace, (text) => {
      const { workspace: read, issues } = readWorkspace([{ name: 'a.yaml', text }]);
      expect(issues).toEqual([]);
      const prepared = prepare(read, { countryData: undefined, at: 0 });
      for (const each of read.policies.values()) {
        const findings = new Map(reviewRedirects(each, prepared).map((finding) => [finding.rule, finding]));
        for (const { name, then } of each.rules) {
          if (then.type !== 'redirect') continue;
          const sent = REQUESTS.filter((request) => {
            const found = decide(request, prepared);
            return found?.policy === each && found.rule === name;
          });
          if (sent.length === 0) continue;
          const through = sent.filter((request) => arrives(then.to, then.status === 307, request, prepared));
          const { severity } = findings.get(name) ?? {};
          if (severity === 'warning') {
            shown++;
            expect([name, text, through.length]).toEqual([name, text, 0]);
          }
          if (through.length > 0) arrived++;
          else if (severity === undefined) missed++;
        }
      }
    }),
    { numRuns: 300 },
  );
  // Nothing is said wrongly, and little is missed.
  expect([shown > 50, arrived > 50, missed < shown / 2]).toEqual([true, true, true]);
});

/** What is found of the redirects of the first policy, as «severity rule: what», and whether a mend is offered. */
function found(text: string): [string, boolean][] {
  const { workspace: read, issues } = readWorkspace([{ name: 'a.yaml', text }]);
  expect(issues).toEqual([]);
  const [first] = read.policies.values();
  return reviewRedirects(first as Policy, prepare(read, { countryData: undefined, at: 0 })).map(
    ({ severity, rule, what, mend }) => [`${severity} ${rule}: ${what.replace(/^.*, which /, '')}`, mend !== undefined],
  );
}
const headOf = (byDefault: string) =>
  `policy: p\ncovers: {hosts: [a.example, why.example]}\ndefault: ${byDefault}\nrules:\n`;
const head = headOf('allow');
const AWAY = '{rule: away, when: {client: 192.0.2.1}, then: {redirect: "https://why.example/"}}';

describe('what is found of redirects', () => {
  it.each([
    [
      'a circle under any rule above',
      `  - {rule: ban, when: {client: 192.0.2.9}, then: block}\n  - ${AWAY}\n`,
      'warning away: the rule itself stops',
      true,
    ],
    [
      'a target that the default stops',
      '  - {rule: away, when: {host: a.example, method: POST}, then: {redirect: "https://why.example/"}}\n',
      'warning away: the default stops',
      true,
    ],
    [
      'a target stopped by a rule below',
      `  - {rule: away, when: {path: /old}, then: {redirect: "https://why.example/"}}\n  - {rule: closed, when: {host: why.example}, then: block}\n`,
      'warning away: `closed` stops',
      true,
    ],
    [
      'a target stopped but for some',
      '  - {rule: away, when: {path: /old}, then: {redirect: "https://why.example/"}}\n  - {rule: us, when: {client: 192.0.2.0/24}, then: allow}\n  - {rule: closed, when: {host: why.example}, then: block}\n',
      'note away: `closed` stops, but for whom `us` lets through',
      true,
    ],
    [
      'two that send to each other',
      '  - {rule: there, when: {path: /there}, then: {redirect: "https://why.example/back"}}\n  - {rule: back, when: {path: /back}, then: {redirect: "https://why.example/there"}}\n',
      'warning there: `back` sends back',
      true,
    ],
    [
      'a rule about nothing but its target, which a mend would empty',
      '  - {rule: secure, when: {host: why.example, path: /}, then: {redirect: "https://why.example/"}}\n',
      'warning secure: the rule itself stops',
      false,
    ],
  ])('%s', (_of, rules, what, mended) => {
    expect(found(headOf(what.includes('the default') ? 'block' : 'allow') + rules)[0]).toEqual([what, mended]);
  });

  it('a target that another policy stops', () => {
    const second = '---\npolicy: q\ncovers: {hosts: [away.example]}\ndefault: block\n';
    const rules = '  - {rule: away, when: {path: /old}, then: {redirect: "https://away.example/"}}\n';
    expect(found(head + rules + second)).toEqual([['warning away: the default of `q` stops', false]]);
    expect(found(`${head + rules}${second}stance: observe\n`)).toEqual([]);
  });

  it('nothing of one that leads on to a page, and of one for another scheme', () => {
    expect(
      found(
        `${head}  - {rule: on, when: {path: /old}, then: {redirect: "http://why.example/"}}\n  - {rule: secure, when: {scheme: http}, then: {redirect: "https://why.example/"}}\n`,
      ),
    ).toEqual([]);
    expect(
      found(
        `${head}  - {rule: us, when: {client: 192.0.2.0/24}, then: allow}\n  - {rule: away, when: {host: a.example}, then: {redirect: "https://why.example/"}}\n`,
      ),
    ).toEqual([]);
  });
});
