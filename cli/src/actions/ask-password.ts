import { text } from 'node:stream/consumers';
import password from '@inquirer/password';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';

/** A new password, or what it is called: typed twice where somebody sits at a terminal, else the first line of standard input. */
export async function askPassword(what = 'password'): Promise<string> {
  if (!process.stdin.isTTY) return (await text(process.stdin)).split(/\r?\n/, 1)[0] ?? '';
  const first = await password({ message: `New ${what}:` });
  const second = await password({ message: 'Once more:' });
  if (first === second) return first;
  throw failure(EXIT.usage, 'passwords-differ');
}
