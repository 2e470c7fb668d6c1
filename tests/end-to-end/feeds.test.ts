import { writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { queryDatabase, startService, type TestService } from '../setup/service.js';

/** Lists that others keep: fetched, kept where that fails, and published by themselves on request. */
let service: TestService & { readonly database: string };
let library: Server;
let address: string;
/** What the library answers. */
let answer: { status: number; body: string | Buffer; headers?: Record<string, string> };
const asked: (string | undefined)[] = [];

beforeAll(async () => {
  library = createServer((request, response) => {
    asked.push(request.headers['if-none-match']);
    const { status, body, headers } = answer;
    if (headers?.etag && request.headers['if-none-match'] === headers.etag) response.writeHead(304).end();
    else response.writeHead(status, headers).end(body);
  });
  await new Promise<void>((resolve) => library.listen(0, '127.0.0.1', resolve));
  address = `http://127.0.0.1:${(library.address() as AddressInfo).port}/adverts.txt`;
  service = await startService();
});
afterAll(async () => {
  await service.stop();
  library.close();
});

const set = (...more: readonly string[]) =>
  service.client('feed', 'set', 'adverts', '--of', 'domains', '--source', address, ...more);
const refresh = () => service.client('feed', 'refresh', 'adverts');
const entries = async () =>
  (await service.call('GET', '/api/v1/lists/adverts/entries')).body.entries.map(
    ({ entry }: { entry: string }) => entry,
  );

describe('a list with a feed', () => {
  it('may not be fetched from private address space, unless that is allowed', async () => {
    answer = { status: 200, body: 'a.example\n' };
    expect((await set()).out).toContain('127.0.0.1 is in private address space');
    const local = address.replace('127.0.0.1', 'localhost');
    const named = await service.client('feed', 'set', 'adverts', '--of', 'domains', '--source', local);
    expect(named.out).toContain('localhost is in private address space');
    expect(asked).toEqual([]);
    expect((await service.call('GET', '/api/v1/lists/adverts')).status).toBe(404);
  });

  it('holds what is there, and is fetched only where it changed', async () => {
    answer = { status: 200, body: '# The library\na.example # first\n*.b.example\n', headers: { etag: '"1"' } };
    expect((await set('--allow-private')).out).toContain('adverts from http://127.0.0.1');
    expect((await set('--allow-private')).out).toContain('unchanged');
    expect(await entries()).toEqual(['a.example', '*.b.example']);
    expect((await refresh()).out).toContain('unchanged');
    expect(asked.at(-1)).toBe('"1"');
    answer = { status: 200, body: 'a.example # first\nc.example\nnot a host\n', headers: { etag: '"2"' } };
    const changed = await refresh();
    expect(changed.out).toContain('1 added, 1 removed');
    expect(changed.out).toContain('1 invalid line was skipped');
    expect(await entries()).toEqual(['a.example', 'c.example']);
    const { versions } = (await service.call('GET', '/api/v1/objects/list/adverts/versions')).body;
    expect(versions.map(({ changedBy }: { changedBy: string }) => changedBy)).toEqual(['feed adverts', 'feed adverts']);
  });

  it('keeps what it holds where the source fails, and says why', async () => {
    const failures: [typeof answer, string][] = [
      [{ status: 500, body: '' }, 'status 500'],
      [{ status: 200, body: '' }, 'No line of it holds'],
      [{ status: 200, body: '<html>\n<p>moved away\n</html>\n' }, 'No line of it holds'],
      [{ status: 200, body: 'a.example\n<p>one\n<p>two\n' }, 'Most of its lines are invalid'],
      [{ status: 200, body: Buffer.from([0xff, 0xfe, 0x00, 0x61]) }, 'not text in UTF-8'],
      [{ status: 200, body: Buffer.alloc(65 * 1024 * 1024, 'a.example\n') }, 'larger than 64 MiB'],
      [{ status: 302, body: '', headers: { location: 'file:///etc/passwd' } }, 'leads to file:'],
      [{ status: 302, body: '', headers: { location: '/again' } }, 'leads on more than 3 times'],
    ];
    for (const [given, why] of failures) {
      answer = given;
      const failed = await refresh();
      expect(failed.out).toContain(why);
      expect(failed.out).toContain('It holds what was fetched');
    }
    expect(await entries()).toEqual(['a.example', 'c.example']);
    library.closeAllConnections();
  });

  it('may come from a file of the service, and from no other', async () => {
    const from = (source: string) => service.client('feed', 'set', 'offices', '--of', 'addresses', '--source', source);
    expect((await from('file:offices.txt')).out).toContain('There is no file offices.txt');
    writeFileSync(join(service.folder, 'feeds', 'offices.txt'), '203.0.113.0/28\n');
    expect((await service.client('feed', 'refresh', 'offices')).out).toContain('1 added, 0 removed');
    expect((await from('file:../access-key')).code).toBe(4);
    expect((await from('ftp://x.example/y')).code).toBe(4);
    expect((await service.client('feed', 'list')).out).toMatch(/offices +file:offices.txt/);
  });

  it('is published by itself where that is requested, with nothing else of the draft', async () => {
    answer = { status: 200, body: 'a.example\n' };
    await set('--allow-private');
    await service.client('revision', 'publish', '-m', 'Begin', '--accept-warnings');
    const edit = await service.call('PUT', '/api/v1/workspace', {
      files: [{ name: 'x.yaml', text: 'list: unfinished\nof: domains\nentries: [x.example]\n' }],
    });
    expect(edit.status).toBe(200);
    answer = { status: 200, body: 'a.example\nz.example\n' };
    expect((await set('--allow-private', '--publish')).out).toContain('1 added, 0 removed, published as revision 2');
    const { contents, message } = (await service.call('GET', '/api/v1/revisions/2')).body;
    expect(message).toContain('1 added, 0 removed');
    expect(contents.map(({ name }: { name: string }) => name)).not.toContain('unfinished');
    expect(contents.find(({ name }: { name: string }) => name === 'adverts').text).toContain('z.example');
  });

  it('is fetched when it is due', async () => {
    answer = { status: 200, body: 'due.example\n' };
    await queryDatabase(service.database, "update feeds set next_at = now() where list = 'adverts'");
    for (let look = 0; look < 60 && !(await entries()).includes('due.example'); look++) await sleep(250);
    expect(await entries()).toEqual(['due.example']);
    const feed = (await service.call('GET', '/api/v1/feeds/adverts')).body;
    expect(Date.parse(feed.nextAt)).toBeGreaterThan(Date.now() + 3_500_000);
    expect((await service.client('feed', 'remove', 'adverts')).out).toBe('adverts is fetched no more.\n');
    expect((await service.client('feed', 'refresh', 'adverts')).code).toBe(4);
    expect(await entries()).toEqual(['due.example']);
  });
});
