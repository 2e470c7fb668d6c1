import { Writable } from 'node:stream';
import { expect, it } from 'vitest';
import { createTerminal } from './output/terminal.js';
import { createProgram } from './program.js';

/** Of two verbs for one deed people try the wrong one: these have another name here. */
const OTHERS = ['delete', 'create', 'make', 'get', 'ls', 'save', 'load', 'change', 'end'];

it('commands are a noun and a verb, with one verb for one deed', () => {
  const stream = new Writable({ write: (_chunk, _encoding, done) => done() });
  const terminal = createTerminal({ stdout: stream, stderr: stream }, {});
  const { commands } = createProgram(() => async () => undefined, terminal, false);
  expect(commands.map((noun) => noun.name())).toContain('policy');
  expect(commands.filter((noun) => noun.commands.length === 0).map((noun) => noun.name())).toEqual(['login', 'logout']);
  for (const noun of commands) {
    const verbs = noun.commands.map((verb) => verb.name());
    expect(verbs.filter((verb) => OTHERS.includes(verb))).toEqual([]);
    for (const verb of noun.commands) expect([verb.name(), verb.commands]).toEqual([verb.name(), []]);
  }
});
