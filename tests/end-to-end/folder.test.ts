import { readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEMO, startService, type TestService } from '../setup/service.js';

/** A workspace as a folder of files, which two people edit beside each other and beside the service. */
let service: TestService;
let mine: string;
let yours: string;
beforeAll(async () => {
  service = await startService();
  mine = join(service.folder, 'mine');
  yours = join(service.folder, 'yours');
  await service.client('workspace', 'apply', `${DEMO}workspace`);
});
afterAll(() => service.stop());

const edit = (folder: string, file: string, change: (text: string) => string): void =>
  writeFileSync(join(folder, file), change(readFileSync(join(folder, file), 'utf8')));
const lists = () => readFileSync(join(mine, 'lists.yaml'), 'utf8');

describe('a folder', () => {
  it('holds the files that the objects came from, comments and all, and is no change', async () => {
    expect((await service.client('workspace', 'pull', mine)).out).toContain('Wrote 24 objects into 4 files');
    expect(readdirSync(mine).sort()).toEqual([
      '.jade-fence.json',
      'catalogue.yaml',
      'lists.yaml',
      'ticket-site.yaml',
      'visitor-web.yaml',
    ]);
    const comments = (text: string) => text.match(/ #.*$/gm) ?? [];
    expect(comments(lists())).toEqual(comments(readFileSync(`${DEMO}workspace/lists.yaml`, 'utf8')));
    expect((await service.client('workspace', 'push', mine)).out).toContain('Nothing has changed');
    expect((await service.client('workspace', 'pull', mine)).code).toBe(0);
  });

  it('brings back what was edited in it, in a dry run and then for good', async () => {
    await service.client('workspace', 'pull', yours);
    edit(mine, 'visitor-web.yaml', (text) => `# Ours\n${text}`);
    writeFileSync(join(mine, 'desk.yaml'), 'probe: desk\nclient: 198.18.4.9\n');
    const dry = await service.client('workspace', 'push', mine, '--dry-run');
    expect(dry.out).toContain('added    probe   desk');
    expect((await service.client('workspace', 'push', mine)).out).toContain('2 changed, 23 unchanged');
    expect((await service.client('workspace', 'push', mine)).out).toContain('Nothing has changed');
    rmSync(join(mine, 'desk.yaml'));
    expect((await service.client('workspace', 'push', mine)).out).toContain('removed  probe  desk');
  });

  it('leaves alone what others changed and added meanwhile', async () => {
    const probe = { text: 'probe: gate\nclient: 198.18.4.8\n' };
    await service.call('PUT', '/api/v1/objects/probe/gate', probe, { 'if-none-match': '*' });
    edit(yours, 'ticket-site.yaml', (text) => text.replace(/^note: .*$/m, 'note: The shop'));
    const pushed = await service.client('workspace', 'push', yours);
    expect(pushed.out).toMatch(/changed +policy +ticket-site/);
    expect(pushed.out).not.toContain('visitor-web');
    expect((await service.call('GET', '/api/v1/objects/probe/gate')).status).toBe(200);
    expect((await service.call('GET', '/api/v1/objects/policy/visitor-web')).body.text).toContain('# Ours');
    expect((await service.client('workspace', 'push', yours)).out).toContain('Nothing has changed');
  });

  it('does not overwrite where both changed the same', async () => {
    edit(mine, 'ticket-site.yaml', (text) => text.replace(/^note: .*$/m, 'note: Tickets'));
    const pushed = await service.client('workspace', 'push', mine);
    expect(pushed).toMatchObject({ code: 4 });
    expect(pushed.err).toContain('policy ticket-site');
    expect(pushed.err).toContain('by administrator');
    const pulled = await service.client('workspace', 'pull', mine);
    expect(pulled).toMatchObject({ code: 1 });
    expect(pulled.err).toContain('ticket-site.yaml');
    expect((await service.client('workspace', 'pull', mine, '--overwrite')).code).toBe(0);
    expect(readFileSync(join(mine, 'ticket-site.yaml'), 'utf8')).toContain('note: The shop');
    expect(readFileSync(join(mine, 'probe/gate.yaml'), 'utf8')).toContain('198.18.4.8');
  });

  it('that does not hold changes nothing, and one that was not pulled is refused', async () => {
    edit(mine, 'lists.yaml', (text) => text.replace('of: addresses', 'of: adresses'));
    const broken = await service.client('workspace', 'push', mine);
    expect(broken.code).toBe(1);
    expect(broken.err).toContain('nothing was changed');
    expect((await service.client('workspace', 'push', `${DEMO}workspace`)).err).toContain('was not pulled');
    writeFileSync(join(mine, '.jade-fence.json'), '{');
    expect((await service.client('workspace', 'push', mine)).err).toContain('cannot be read');
  });

  it('is completed in editors by a schema, which the service serves too', async () => {
    const path = join(service.folder, 'workspace.schema.json');
    expect((await service.client('workspace', 'schema', '--output', path)).out).toBe(`Wrote ${path}.\n`);
    const shown = await service.call('GET', '/api/v1/workspace/schema.json');
    expect(shown.type).toContain('application/schema+json');
    expect(JSON.parse(readFileSync(path, 'utf8'))).toEqual(shown.body);
    expect((await service.client('workspace', 'schema', '--output', '/no/such/folder')).err).toContain(
      'could not be written',
    );
  });
});
