import { readdirSync, readFileSync } from 'node:fs';
import { type CallName, MAY_CALL } from '@jade-fence/contract';
import { describe, expect, it } from 'vitest';

/*
 * What the service can do is done by hand in the console and typed in the client: every call of the API is made by both,
 * but for those below, each with the reason.
 */

const NOT_IN_CLIENT: Partial<Record<CallName, string>> = {
  'POST /workspace/reading': 'the client reads files itself: workspace check',
  'GET /workspace/schema.json': 'the client has the schema: workspace schema',
  'GET /notices/:name': 'request explain shows the notice that a client is shown',
  'GET /replays/:id/fall': 'a drawing',
  'GET /resolves/:id': 'resolve run follows it by its events',
  'GET /country-data': 'service show has it',
  'GET /revisions/:number': 'revision show and compare ask for differences',
  'GET /feeds/:list': 'feed list has all of them',
  'GET /mappings/:name': 'mapping list has all of them',
  'GET /openapi.json': 'for programs',
  'GET /metrics': 'for programs',
};

const NOT_IN_CONSOLE: Partial<Record<CallName, string>> = {
  'GET /objects': 'the library has GET /workspace',
  'GET /resolves/:id/progress': 'the page looks again itself',
  'GET /proposals': 'GET /draft has those that wait',
  'GET /revisions/:number': 'the history asks for differences',
  'GET /feeds/:list': 'GET /feeds has all of them',
  'GET /mappings/:name': 'GET /mappings has all of them',
  'GET /openapi.json': 'for programs',
  'GET /metrics': 'for programs',
};

/** The sources of a workspace, tests left out, as one text. */
function sourcesOf(folder: string): string {
  const root = new URL(`../../${folder}/`, import.meta.url);
  const files = readdirSync(root, { recursive: true, encoding: 'utf8' });
  return files
    .filter((file) => /\.tsx?$/.test(file) && !file.includes('.test.'))
    .map((file) => readFileSync(new URL(file, root), 'utf8'))
    .join('\n');
}

/** Calls whose names are put together from parts: `GET /audit.${format}`. */
const isMade = (sources: string, call: string): boolean =>
  sources.includes(`'${call}'`) ||
  [...sources.matchAll(/`((?:GET|POST) \/[^`]*\$\{[^`]*)`/g)].some(([, template = '']) =>
    new RegExp(`^${template.replace(/[.*+?^()[\]\\|/]/g, '\\$&').replace(/\$\{[^}]*\}/g, '[a-z]+')}$`).test(call),
  );

describe.each([
  ['the client', 'cli/src', NOT_IN_CLIENT],
  ['the console', 'console/src', NOT_IN_CONSOLE],
])('%s', (_, folder, exceptions) => {
  const sources = sourcesOf(folder);
  const calls = Object.keys(MAY_CALL) as CallName[];

  it('makes every call of the API, but for those that it has a reason not to', () => {
    expect(calls.filter((call) => !isMade(sources, call) && !(call in exceptions))).toEqual([]);
  });

  it('has no reason left for a call that it makes, or that is none', () => {
    const stale = Object.keys(exceptions).filter((call) => !calls.includes(call as CallName) || isMade(sources, call));
    expect(stale).toEqual([]);
  });
});
