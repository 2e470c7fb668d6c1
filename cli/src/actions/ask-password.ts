import { text } from 'node:stream/consumers';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';

/** A password or a key: typed unseen where somebody sits at a terminal, else the first line of standard input. */
export async function askSecret(message: string): Promise<string> {
  if (process.stdin.isTTY) return (await import('@inquirer/password')).default({ message });
  return (await text(process.stdin)).split(/\r?\n/, 1)[0] ?? '';
}

/** A new password, or what it is called: at a terminal it is typed twice. */
export async function askPassword(what = 'password'): Promise<string> {
  const first = await askSecret(`New ${what}:`);
  if (!process.stdin.isTTY || first === (await askSecret('Once more:'))) return first;
  throw failure(EXIT.usage, 'passwords-differ');
}

/** One's password until now, if there is one, and the one from now on; standard input has them on a line each. */
export async function askPasswordChange(): Promise<{ readonly old?: string; readonly password: string }> {
  if (!process.stdin.isTTY) {
    const [first = '', second] = (await text(process.stdin)).replace(/\r?\n$/, '').split(/\r?\n/);
    return second === undefined ? { password: first } : changeFrom(first, second);
  }
  const old = await askSecret('Current password, empty if there is none:');
  const next = await askPassword();
  return changeFrom(old, next);
}

/** Nobody has an empty password: one that is left empty is none. */
const changeFrom = (old: string, password: string) => (old === '' ? { password } : { old, password });
