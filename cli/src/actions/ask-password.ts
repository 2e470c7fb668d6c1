import { text } from 'node:stream/consumers';
import password from '@inquirer/password';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';

/** A password or a key: typed unseen where somebody sits at a terminal, else the first line of standard input. */
export async function askSecret(message: string): Promise<string> {
  if (process.stdin.isTTY) return password({ message });
  return (await text(process.stdin)).split(/\r?\n/, 1)[0] ?? '';
}

/** A new password, or what it is called: at a terminal it is typed twice. */
export async function askPassword(what = 'password'): Promise<string> {
  const first = await askSecret(`New ${what}:`);
  if (!process.stdin.isTTY || first === (await askSecret('Once more:'))) return first;
  throw failure(EXIT.usage, 'passwords-differ');
}
