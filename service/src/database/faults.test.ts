import { expect, it } from 'vitest';
import { isDatabaseFull, isDatabaseLost, isUnstorable } from './faults.js';

const sql = (code: string) => ({ nativeError: { code, message: '' } });

it.each([
  ['a connection that broke off', sql('08006'), 'lost'],
  ['a server that stops', sql('57P01'), 'lost'],
  ['a server that has all the connections it takes', sql('53300'), 'lost'],
  ['no one at the port', { code: 'ECONNREFUSED', message: '' }, 'lost'],
  ['a socket that is gone', { code: 'ENOENT', syscall: 'connect', message: '' }, 'lost'],
  ['a pool that waited in vain', new Error('Timeout acquiring a connection'), 'lost'],
  ['a disk without room', sql('53100'), 'full'],
  ['memory used up', sql('53200'), 'full'],
  ['a NUL in a text', sql('22021'), 'unstorable'],
  ['a name that is there already', sql('23505'), 'none'],
  ['a file that is missing', { code: 'ENOENT', syscall: 'open', message: '' }, 'none'],
  ['nothing at all', undefined, 'none'],
])('takes %s for what it is', (_, error, expected) => {
  const found = { lost: isDatabaseLost(error), full: isDatabaseFull(error), unstorable: isUnstorable(error) };
  expect(Object.entries(found).flatMap(([name, is]) => (is ? [name] : []))).toEqual(
    expected === 'none' ? [] : [expected],
  );
});
