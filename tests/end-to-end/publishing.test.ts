import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEMO, startGarden, type TestService } from '../setup/service.js';

/** The draft, what is published of it, and the way back; by client and API. */
let service: TestService;
const POLICY = readFileSync(`${DEMO}workspace/visitor-web.yaml`, 'utf8');

/** The policy with `no-wagering` above `web-for-all`, as the check requires. */
const mended = (text: string): string => {
  const [, rule = ''] = /(\n {2}- rule: no-wagering\n(?: {4}.*\n)+)/.exec(text) ?? [];
  return text.replace(rule, '\n').replace('\n  - rule: web-for-all\n', `${rule}\n  - rule: web-for-all\n`);
};

const apply = async (text: string): Promise<void> => {
  const file = join(service.folder, 'edited.yaml');
  writeFileSync(file, text);
  expect((await service.client('workspace', 'apply', file)).err).toBe('');
};

beforeAll(async () => {
  service = await startGarden();
});
afterAll(() => service.stop());

describe('publishing', () => {
  it('is stopped by a check that fails, and names the move that mends it', async () => {
    const ran = await service.client('revision', 'publish', '-m', 'First rules', '--accept-warnings');
    expect(ran.code).toBe(1);
    expect(ran.err).toContain('what-visitors-reach: visitor-phone at betting');
    expect(ran.err).toContain('Move rule `no-wagering` above `web-for-all`');
    const checked = await service.client('check', 'run');
    expect(checked.code).toBe(1);
    expect(checked.out).toContain('1 of 6 answers is not as expected');
    expect((await service.client('revision', 'list')).out).toContain('Nothing has been published yet');
    expect((await service.call('GET', '/api/v1/checks?state=published')).body).toMatchObject({
      code: 'nothing-published',
    });
    expect((await service.call('POST', '/api/v1/draft/discard', {})).body).toMatchObject({ code: 'nothing-published' });
  });

  it('asks about warnings, and goes on where they are accepted', async () => {
    await apply(mended(POLICY));
    expect((await service.client('check', 'run')).code).toBe(0);
    const asked = await service.client('revision', 'publish', '-m', 'First rules');
    expect(asked.code).toBe(1);
    expect(asked.err).toContain('new warnings');
    const ran = await service.client('revision', 'publish', '-m', 'First rules', '--accept-warnings');
    expect(ran).toMatchObject({ code: 0, out: 'Revision 1 is in force, with 24 objects.\n' });
    expect((await service.client('draft', 'show')).out).toBe('Revision 1 is in force. The draft is the same.\n');
    expect((await service.client('revision', 'publish', '-m', 'Again')).err).toContain('The draft has no changes');
  });

  it('does not ask again about warnings that are in force already', async () => {
    await apply(mended(POLICY).replace('default: block', 'default: allow'));
    const difference = await service.client('revision', 'compare');
    expect(difference.out).toContain('From revision 1 to draft: one object changed.');
    expect(difference.out).toMatch(/the default was: Block every request .* It is: Allow every request/);
    expect((await service.client('revision', 'compare', '--text')).out).toMatch(/-default: block\n +\+default: allow/);
    expect((await service.client('revision', 'publish', '-m', 'Let the rest through')).out).toContain(
      'Revision 2 is in force',
    );
  });

  it('publishes the draft that was looked at, and no other', async () => {
    await apply(mended(POLICY).replace('default: block', 'default: block # as before'));
    const { draft } = (await service.call('GET', '/api/v1/draft')).body;
    const later = await service.call('POST', '/api/v1/revisions', { message: 'Not yet', draft: draft + 1 });
    expect(later).toMatchObject({ status: 412, body: { code: 'draft-changed' } });
    await apply(POLICY.replace('stance: observe', 'stance: off'));
    const refused = await service.call('POST', '/api/v1/revisions', { message: 'As I saw it', draft });
    expect(refused).toMatchObject({ status: 412, body: { code: 'draft-changed' } });
    expect((await service.client('revision', 'list')).out).not.toContain('As I saw it');
  });

  it('can be gone back from: one object, or all', async () => {
    const discarded = await service.client('draft', 'discard', 'policy', 'visitor-web', '--yes');
    expect(discarded.out).toContain('changed  policy  visitor-web');
    expect((await service.client('draft', 'show')).out).toContain('The draft is the same.');
    const restored = await service.client('revision', 'restore', '1', '--yes');
    expect(restored.out).toContain('1 changed');
    expect((await service.client('revision', 'compare', '1')).out).toContain(
      'Nothing is different between revision 1 and draft',
    );
    expect((await service.client('revision', 'publish', '-m', 'As it was')).out).toContain('Revision 3 is in force');
    const history = (await service.client('object', 'history', 'policy', 'visitor-web')).out;
    expect(history).toMatch(/2 +\S+ \S+ +administrator +1, 3/);
    expect((await service.client('revision', 'restore', '9', '--yes')).err).toContain(
      'The revisions are numbered 1 to 3',
    );
  });

  it('does not let what others need be taken away', async () => {
    const { body } = await service.call('GET', '/api/v1/objects/list/garden-sites');
    const refused = await service.call('DELETE', '/api/v1/objects/list/garden-sites', undefined, {
      'if-match': `"${body.version}"`,
    });
    expect(refused).toMatchObject({ status: 422, body: { code: 'invalid-workspace' } });
  });

  it('is what a replay can judge by, beside the draft', async () => {
    await apply(mended(POLICY).replace('default: block', 'default: allow'));
    const draft = JSON.parse((await service.client('--json', 'replay', 'run', 'week')).out);
    const published = JSON.parse((await service.client('--json', 'replay', 'run', 'week', '--state', 'published')).out);
    const second = JSON.parse((await service.client('--json', 'replay', 'run', 'week', '--state', '2')).out);
    expect(published.replay).toMatchObject({ revision: 3, notes: ['Judged by revision 3, as it was published.'] });
    expect(draft.replay.revision).toBeNull();
    expect(second.report.verdicts).toEqual(draft.report.verdicts);
    expect((await service.client('replay', 'list')).out).toContain('revision 3');
    expect((await service.client('replay', 'run', 'week', '--state', 'yesterday')).err).toContain('state is `draft`');
    await service.client('draft', 'discard', '--all', '--yes');
  });

  it('makes one revision where several publish the same at once', async () => {
    await apply(mended(POLICY).replace('default: block', 'default: allow # at once'));
    const order = { message: 'At once', acceptWarnings: true };
    const answers = await Promise.all([0, 1, 2].map(() => service.call('POST', '/api/v1/revisions', order)));
    const won = answers.filter(({ status }) => status === 201);
    expect(won).toHaveLength(1);
    for (const { status, body } of answers)
      if (status !== 201) expect(['published-meanwhile', 'nothing-to-publish']).toContain(body.code);
    expect((await service.call('GET', '/api/v1/revisions')).body.revisions[0].revision).toBe(won[0]?.body.revision);
  });
});

describe('an object of the draft', () => {
  const path = '/api/v1/objects/list/edge-proxies';

  it('is changed at the version that the change was made for, and at no other', async () => {
    const { body } = await service.call('GET', path);
    const text = body.text.replace('entries:', 'entries: # two of them\n');
    const match = { 'if-match': `"${body.version}"` };
    expect(await service.call('PUT', path, { text })).toMatchObject({ status: 428, body: { code: 'version-needed' } });
    const first = await service.call('PUT', path, { text }, match);
    expect(first).toMatchObject({ status: 200, body: { version: body.version + 1, changedBy: 'administrator' } });
    const second = await service.call('PUT', path, { text: `${text}# mine\n` }, match);
    expect(second).toMatchObject({ status: 412, body: { code: 'object-changed' } });
    expect(second.body.detail).toContain('by administrator');
    expect((await service.call('PUT', path, { text }, { 'if-none-match': '*' })).status).toBe(412);
  });

  it('is what its address says, and holds', async () => {
    const put = (text: string) => service.call('PUT', path, { text }, { 'if-match': '"2"' });
    expect(await put('probe: x\n')).toMatchObject({ status: 422, body: { code: 'other-object' } });
    expect(await put('list: edge-proxies\nof: adresses\n')).toMatchObject({
      status: 422,
      body: { code: 'invalid-workspace' },
    });
    expect(await put('# nothing\n')).toMatchObject({ status: 422, body: { code: 'nothing-to-apply' } });
    expect((await service.call('GET', '/api/v1/objects/lists/edge-proxies')).body.remedy).toBe('Did you mean `list`?');
    expect((await service.call('GET', '/api/v1/objects/list/edge-proxy')).body.remedy).toBe(
      'Did you mean `edge-proxies`?',
    );
  });

  it('comes and goes', async () => {
    const probe = '/api/v1/objects/probe/desk';
    const made = await service.call(
      'PUT',
      probe,
      { text: 'probe: desk\nclient: 198.18.4.9\n' },
      { 'if-none-match': '*' },
    );
    expect(made).toMatchObject({ status: 200, body: { version: 1 } });
    expect((await service.call('DELETE', probe, undefined, { 'if-match': '"1"' })).status).toBe(204);
    expect((await service.call('GET', probe)).status).toBe(404);
    expect((await service.call('GET', `${probe}/versions/1`)).body.text).toContain('198.18.4.9');
    expect((await service.call('GET', `${probe}/versions/2`)).body.code).toBe('unknown-version');
    expect((await service.client('object', 'show', 'probe', 'desk', '--at', '1')).out).toContain('client: 198.18.4.9');
    const { versions } = (await service.call('GET', `${probe}/versions`)).body;
    expect(versions).toMatchObject([{ version: 1, revisions: [] }]);
  });
});

describe('a check', () => {
  it('is made of a request of a replay in one step', async () => {
    const made = await service.client('check', 'add', 'seen', '--request', '28');
    expect(made.out).toContain('Check seen now asks as probe at-');
    const ran = await service.client('check', 'run', 'seen');
    expect(ran).toMatchObject({ code: 0 });
    expect(ran.out).toContain('its answer is as expected');
    await service.client('check', 'add', 'seen', '--request', '28', '--expect', 'uncovered');
    expect((await service.client('check', 'run', 'seen')).code).toBe(1);
    expect((await service.client('check', 'run', 'sen')).err).toContain('Did you mean `seen`?');
    expect((await service.client('check', 'add', 'seen', '--request', '999999')).err).toContain('numbered 1 to 5000');
  });
});

describe('questions', () => {
  it('about a client are answered by the rules that can apply to it', async () => {
    const phone = await service.client('client', 'show', 'visitor-phone');
    expect(phone.out).toContain('What probe visitor-phone at 10.40.3.7, in private address space can meet:');
    expect(phone.out).toContain('Allow every request. (always)');
    const tablet = (await service.call('GET', '/api/v1/effective?client=10.40.8.7&policy=visitor-web')).body;
    expect(tablet.policies[0].rules[0].sentence).toBe('Block requests to any host except those in `garden-sites`.');
    expect((await service.call('GET', '/api/v1/effective')).body).toMatchObject({ code: 'which-client' });
    expect((await service.client('client', 'show', 'visitor-fone')).err).toContain('Did you mean `visitor-phone`?');
    expect((await service.client('client', 'show', '10.40.8.700')).err).toContain('is not an IP address');
  });

  it('about a value are answered by all that is known of it', async () => {
    const shown = (await service.client('look-up', 'show', '198.18.97.3')).out;
    expect(shown).toContain('XM: the country data of 2026-11-01 says so of 198.18.96.0/20');
    expect(shown).toContain('ticket-site / no-harvesters');
    expect((await service.call('GET', '/api/v1/look-up?of=user:')).body).toMatchObject({ code: 'nothing-to-look-up' });
  });
});
