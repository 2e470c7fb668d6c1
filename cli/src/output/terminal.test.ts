import { PassThrough } from 'node:stream';
import { describe, expect, it } from 'vitest';
import { run } from '../program.js';
import { safeLines } from './safe.js';
import { createTerminal } from './terminal.js';

const stream = (isTTY: boolean) => Object.assign(new PassThrough({ encoding: 'utf8' }), { isTTY });
const textOf = (from: PassThrough): string => from.read() ?? '';

describe('colours', () => {
  it.each([
    [true, false],
    [false, true],
  ])('go by the stream that they go to: out %s, err %s', (out, err) => {
    const terminal = createTerminal({ stdout: stream(out), stderr: stream(err) }, {});
    expect([terminal.paint.red('x') !== 'x', terminal.paintErr.red('x') !== 'x']).toEqual([out, err]);
  });

  it('are used everywhere where FORCE_COLOR is set, unless it is 0 or NO_COLOR is set too', () => {
    const shown = (env: NodeJS.ProcessEnv) =>
      createTerminal({ stdout: stream(false), stderr: stream(false) }, env).paint.red('x') !== 'x';
    expect(
      [{ FORCE_COLOR: '1' }, { FORCE_COLOR: '0' }, { FORCE_COLOR: '' }, { FORCE_COLOR: '1', NO_COLOR: '1' }].map(shown),
    ).toEqual([...[true, false, false, false]]);
  });

  it('are none where NO_COLOR is set', () => {
    const terminal = createTerminal({ stdout: stream(true), stderr: stream(true) }, { NO_COLOR: '1' });
    expect(terminal.paint.red('x') + terminal.paintErr.red('x')).toBe('xx');
  });
});

describe('a wrong command line', () => {
  const wrong: [string, string[]][] = [
    ['an unknown command', ['walk']],
    ['a verb that its noun does not have', ['policy', 'walk']],
    ['an unknown option', ['service', 'show', '--loud']],
    ['a missing argument', ['country', 'show']],
    ['a value that does not hold', ['revision', 'restore', 'three']],
  ];

  it.each(wrong)('is reported to programs as JSON, with code 2: %s', async (_name, args) => {
    const [stdout, stderr] = [stream(false), stream(false)];
    expect(await run([...args, '--json'], createTerminal({ stdout, stderr }, {}), {})).toBe(2);
    expect(JSON.parse(textOf(stderr))).toMatchObject({
      code: 'usage',
      detail: expect.any(String),
      remedy: 'Try --help.',
    });
    expect(textOf(stdout)).toBe('');
  });

  it.each(wrong)('is reported to people in words, once: %s', async (_name, args) => {
    const [stdout, stderr] = [stream(false), stream(false)];
    expect(await run(args, createTerminal({ stdout, stderr }, {}), {})).toBe(2);
    expect(textOf(stderr).match(/error: /g)).toHaveLength(1);
  });
});

it('shows lines as lines, and nothing that steers a terminal', () => {
  expect(safeLines('a: 1\r\nb:\t2\n\u001b[2Jc\u202e')).toBe('a: 1\nb:\t2\n\\x1b[2Jc\\x202e');
});
