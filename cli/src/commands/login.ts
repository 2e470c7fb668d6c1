import { hostname } from 'node:os';
import { text } from 'node:stream/consumers';
import password from '@inquirer/password';
import type { Command } from 'commander';
import { Client } from '../client/client.js';
import { tokenByPassword } from '../client/sign-in.js';
import { DEFAULT_SERVICE } from '../context.js';
import { EXIT } from '../exit-code.js';
import { Failure, failure } from '../failure.js';
import { noun } from '../nouns.js';
import { safe } from '../output/safe.js';
import { table } from '../output/table.js';
import { type Profile, readProfiles, writeProfiles } from '../profiles.js';
import { examples, type Register } from './command.js';

interface LoginGiven {
  readonly user?: string;
  readonly as?: string;
}

export const registerLogin: Register = (program, act) => {
  program
    .command('login')
    .helpGroup(SIGNING_IN)
    .summary('sign in to a service, and keep a key for it')
    .description(
      'Signs in and keeps what it takes as a profile, for commands without --service and --key-file. With --user it takes a password and keeps a token of its own, which `token list` shows; without, a key or token. Both are read from standard input where there is no terminal.',
    )
    .argument('[service]', `where the service is (default: ${DEFAULT_SERVICE})`)
    .option('--user <name>', 'sign in by this name and a password')
    .option('--as <profile>', 'what to call the profile (default: the host of the service)')
    .addHelpText(
      'after',
      examples('jade-fence login --user ines', 'jade-fence login https://fence.fennelhill.example --as garden'),
    )
    .action(
      act(async ({ show, env }, given: string | undefined, { user, as }: LoginGiven) => {
        const service = serviceOf(given ?? env.JADE_FENCE_URL ?? DEFAULT_SERVICE);
        const profile = await signedIn(service, user);
        const me = await new Client(service, () => profile.key).call('GET /me');
        const name = as ?? new URL(service).host;
        const { profiles } = readProfiles(env);
        const file = writeProfiles(env, { current: name, profiles: new Map([...profiles, [name, profile]]) });
        show(
          { profile: name, service, name: me.name, role: me.role },
          () => `Signed in to ${service} as ${safe(me.name)}, ${me.role}. The key is in ${file}, as profile ${name}.`,
        );
        return undefined;
      }),
    );

  program
    .command('logout')
    .helpGroup(SIGNING_IN)
    .summary('forget the key of a service')
    .description('Removes a profile, and the token that `login --user` made for it.')
    .argument('[profile]', 'the profile (default: the current one)')
    .addHelpText('after', examples('jade-fence logout', 'jade-fence logout garden'))
    .action(
      act(async ({ show, env }, given: string | undefined) => {
        const { current, profiles } = readProfiles(env);
        const name = given ?? current;
        const profile = name === null ? undefined : profiles.get(name);
        if (name === null || profile === undefined)
          throw failure(EXIT.usage, 'no-profile', { name: name ?? '', names: [...profiles.keys()].join(', ') });
        const isRevoked = await revoked(profile);
        const left = new Map([...profiles].filter(([each]) => each !== name));
        writeProfiles(env, { current: name === current ? null : current, profiles: left });
        const token = isRevoked ? ' and removed its token' : '';
        show({ removed: name, tokenRemoved: isRevoked }, () => `Removed profile ${name}${token}.`);
        return undefined;
      }),
    );

  registerProfiles(program, act);
};

export const SIGNING_IN = 'Signing in, and completion:';

const registerProfiles: Register = (program, act) => {
  const profile: Command = noun(program, 'profile').description(
    'Profiles that `login` made. --profile and JADE_FENCE_PROFILE choose one for a command.',
  );

  profile
    .command('list')
    .summary('all of them; the current one has a star')
    .action(
      act(({ show, terminal, env }) => {
        const { current, profiles } = readProfiles(env);
        const shown = [...profiles].map(([name, { service }]) => ({ name, service, current: name === current }));
        const columns = ['', 'profile', 'service'].map((title) => ({ title }));
        const rows = shown.map((each) => [each.current ? '*' : ' ', safe(each.name), safe(each.service)]);
        show({ profiles: shown }, () =>
          rows.length === 0
            ? 'There is no profile yet. Make one with `jade-fence login`.'
            : table(columns, rows, terminal.paint),
        );
        return undefined;
      }),
    );

  profile
    .command('set')
    .summary('make one the current profile')
    .argument('<profile>', 'its name')
    .addHelpText('after', examples('jade-fence profile set garden'))
    .action(
      act(({ show, env }, name: string) => {
        const { profiles } = readProfiles(env);
        const found = profiles.get(name);
        if (found === undefined)
          throw failure(EXIT.usage, 'no-profile', { name, names: [...profiles.keys()].join(', ') });
        writeProfiles(env, { current: name, profiles });
        show({ current: name }, () => `Commands go to ${safe(found.service)} now.`);
        return undefined;
      }),
    );
};

function serviceOf(given: string): string {
  const url = URL.canParse(given) ? new URL(given) : undefined;
  if (url?.protocol !== 'http:' && url?.protocol !== 'https:') throw failure(EXIT.usage, 'no-url', { given });
  return url.href.replace(/\/+$/, '');
}

async function signedIn(service: string, user: string | undefined): Promise<Profile> {
  const secret = await asked(user === undefined ? 'Access key or token:' : `Password of ${user}:`);
  if (user === undefined) return { service, key: secret };
  const { token, key } = await tokenByPassword(service, { name: user, password: secret }, `client on ${hostname()}`);
  return { service, key, token };
}

async function asked(message: string): Promise<string> {
  if (process.stdin.isTTY) return password({ message });
  return (await text(process.stdin)).split(/\r?\n/, 1)[0]?.trim() ?? '';
}

/** Removes the token of a profile. False where it has none of its own, or the service is away or knows it no more. */
async function revoked({ service, key, token }: Profile): Promise<boolean> {
  if (token === undefined) return false;
  try {
    await new Client(service, () => key).call('DELETE /tokens/:id', { params: { id: token } });
    return true;
  } catch (error) {
    if (error instanceof Failure) return false;
    throw error;
  }
}
