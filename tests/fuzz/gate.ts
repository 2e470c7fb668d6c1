import { get } from 'node:http';
import { setTimeout as sleep } from 'node:timers/promises';
import fc from 'fast-check';
import { expect } from 'vitest';
import { parseAddress } from '../../core/src/address/index.js';
import { evaluate, prepare, subjectOf } from '../../core/src/engine/index.js';
import { forwardingText } from '../../core/src/hostile/forwarding.arbitrary.js';
import { pathAsSent } from '../../core/src/hostile/path.arbitrary.js';
import { hostileText } from '../../core/src/hostile/text.arbitrary.js';
import { makeRequest } from '../../core/src/request/index.js';
import { normalPath, splitTarget } from '../../core/src/url/index.js';
import { readWorkspace } from '../../core/src/workspace/index.js';
import type { TestService } from '../setup/service.js';

const HOST = 'herbarium.fennelhill.example';
const POLICY = `policy: herbarium
covers: {hosts: [${HOST}]}
client: {from: forwarded, trust: [10.10.1.0/24]}
default: allow
rules:
  - {rule: admins, when: {path: ["/admin/**", "/@x/**", "/x;x/**"]}, then: block}
  - {rule: keyless, when: {path: ["/x/**"], header.x-api-key: absent}, then: block}
  - {rule: deleting, when: {query.q: [x, "*admin*"]}, then: block}
  - {rule: strangers, when: {client: [198.18.0.0/24, "2001:db8:40::/64"], method: {not: GET}}, then: block}
  - {rule: chosen, when: {header.x-api-key: ["1*", "-", "~^a"], cookie.s: present}, then: block}
`;
const ANSWERS = { allow: 204, block: 403 } as const;

/** What a header can carry: printable characters of Latin-1, without white space around. */
const inHeader = (text: fc.Arbitrary<string>) =>
  text.map((each) =>
    each
      .replace(/[^\x20-\x7e\xa1-\xff]/g, '')
      .slice(0, 2000)
      .trim(),
  );
const optional = <T>(text: fc.Arbitrary<T>) => fc.option(text, { nil: undefined });

const original = fc.record({
  method: fc.constantFrom('GET', 'POST', 'get', 'M-SEARCH'),
  target: inHeader(
    fc
      .tuple(pathAsSent, fc.constantFrom('', '?', '?q=x', '?q=%78', '?a&q=%61dmin', '?q', '#?q=x', '?q=x#y'))
      .map((parts) => parts.join('')),
  ),
  key: optional(inHeader(hostileText)),
  cookie: optional(fc.constantFrom('', 's', 's=', 's=a', 'a=b; s="c"', 't=1;s=2')),
  before: optional(inHeader(forwardingText)),
  peer: fc.constantFrom('10.10.1.4', '198.18.0.9', '203.0.113.7', '2001:db8:40::7'),
});

/** Puts the rules of the property in force. */
export async function publishRules(service: TestService): Promise<void> {
  const files = [{ name: 'herbarium.yaml', text: POLICY }];
  expect((await service.call('PUT', '/api/v1/workspace', { files })).status).toBe(200);
  expect((await service.call('POST', '/api/v1/revisions', { message: 'Fuzz', acceptWarnings: true })).status).toBe(201);
  while ((await service.ask('POST', '/decide', { host: HOST })).status !== 200) await sleep(20);
}

/**
 * The status of an answer, over a connection of its own: while other properties keep this thread, idle ones are closed
 * without its being seen here.
 */
function statusOf(url: string, headers: Record<string, string>): Promise<number | undefined> {
  return new Promise((resolve, reject) => {
    get(url, { headers, agent: false }, (response) => {
      response.resume().on('end', () => resolve(response.statusCode));
    }).on('error', reject);
  });
}

/** `/gate` answers what the reference evaluator says of the request that its headers describe. */
export function gateAsRules(service: TestService, token: string) {
  const { workspace } = readWorkspace([{ name: 'herbarium.yaml', text: POLICY }]);
  const prepared = prepare(workspace, { countryData: undefined, at: 0 });
  const policy = workspace.policies.get('herbarium');
  if (!policy) throw new Error('the policy of the property is not read');
  return fc.asyncProperty(original, async ({ method, target, key, cookie, before, peer }) => {
    const sent: Record<string, string> = {
      authorization: `Bearer ${token}`,
      'x-forwarded-method': method,
      'x-forwarded-proto': 'https',
      'x-forwarded-host': HOST,
      'x-forwarded-uri': target,
      'x-forwarded-for': before === undefined ? peer : `${before}, ${peer}`,
      ...(key === undefined ? {} : { 'x-api-key': key }),
      ...(cookie === undefined ? {} : { cookie }),
    };
    const status = await statusOf(`${service.gateUrl}/gate?answer=403`, sent);
    // Where the target is another host's, the gateway is to refuse the request itself.
    if (status === 400 && /^\/*[a-z]+:/i.test(target)) return;
    const { path, query } = splitTarget(target);
    const header = (name: string, value: string | undefined): [string, string[]][] =>
      value === undefined ? [] : [[name, [value]]];
    const request = makeRequest({
      ...{ method: method.toUpperCase(), host: HOST, scheme: 'https', peer: parseAddress(peer) },
      path: normalPath(path),
      query: query ?? '',
      headers: new Map([
        ...header('x-api-key', key),
        ...header('cookie', cookie),
        ...header('x-forwarded-for', before),
      ]),
      allHeaders: true,
    });
    const { verdict } = evaluate(policy, subjectOf(request, policy, prepared), prepared);
    expect(status).toBe(ANSWERS[verdict as keyof typeof ANSWERS]);
  });
}
