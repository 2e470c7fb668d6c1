import { describe, expect, it } from 'vitest';
import { parseAddress } from '../address/index.js';
import { prepare } from '../engine/index.js';
import { makeRequest } from '../request/index.js';
import { readWorkspace } from '../workspace/index.js';
import { withExpectation } from './expect.js';
import { runChecks } from './run-checks.js';

const POLICY = 'policy: web\ncovers: {hosts: [.fennelhill.example]}\ndefault: block\nrules: []\n';
const NOTHING = { probe: () => undefined, check: undefined };

const asked = makeRequest({
  time: Date.parse('2026-11-12T10:00:00Z'),
  method: 'POST',
  scheme: 'https',
  host: 'tickets.fennelhill.example',
  path: '/account/sign-in',
  query: 'from=/whats-on',
  agent: 'Meadowlark/12.1 (phone)',
});
const client = parseAddress('2001:db8:1::7');

describe('a check made of a request', () => {
  it('is a workspace that holds, whose answer is the one that was expected', () => {
    const { probe, check, destination } = withExpectation(
      'seen',
      { request: asked, client, verdict: 'block' },
      NOTHING,
    );
    expect(probe.name).toBe('at-2001-db8-1-7');
    expect(destination).toBe('tickets-fennelhill-example-account-sign-in');
    const { workspace, issues } = readWorkspace([
      { name: 'a.yaml', text: POLICY },
      { name: 'b.yaml', text: probe.text },
      { name: 'c.yaml', text: check },
    ]);
    expect(issues).toEqual([]);
    const grids = runChecks(prepare(workspace, { countryData: undefined, at: 0 }), workspace.checks.values(), 0);
    expect(grids[0]?.cells).toMatchObject([{ holds: true, verdict: 'block', rule: 'default' }]);
  });

  it('goes into a check that is there, whose comments stay, and uses what it has', () => {
    const first = withExpectation('seen', { request: asked, client, verdict: 'block' }, NOTHING);
    const known = { probe: (name: string) => (name === first.probe.name ? first.probe.text : undefined) };
    const commented = `# What the gardeners saw\n${first.check}`;
    const tunnel = makeRequest({
      method: 'CONNECT',
      host: 'tickets.fennelhill.example',
      port: 443,
      agent: asked.agent,
    });
    const second = withExpectation(
      'seen',
      { request: tunnel, client, verdict: 'allow' },
      { ...known, check: commented },
    );
    expect(second.probe).toEqual(first.probe);
    expect(second.check).toContain('# What the gardeners saw');
    expect(second.check).toContain('tunnel: tickets.fennelhill.example:443');
    expect(second.check.match(/at-2001-db8-1-7/g)).toHaveLength(1);
    const third = withExpectation(
      'seen',
      { request: asked, client, verdict: 'allow' },
      { ...known, check: second.check },
    );
    expect(third.destination).toBe(first.destination);
    expect(third.check).toContain('tickets-fennelhill-example-account-sign-in: allow');
  });

  it('takes another name for a probe, or a destination, that is another', () => {
    const first = withExpectation('seen', { request: asked, client, verdict: 'block' }, NOTHING);
    const known = { probe: (name: string) => (name === first.probe.name ? first.probe.text : undefined) };
    const other = makeRequest({ ...asked, agent: 'Thistle/8.0', query: 'from=/' });
    const second = withExpectation(
      'seen',
      { request: other, client, verdict: 'block' },
      { ...known, check: first.check },
    );
    expect(second.probe.name).toBe('at-2001-db8-1-7-2');
    expect(second.destination).toBe('tickets-fennelhill-example-account-sign-in-2');
  });
});
