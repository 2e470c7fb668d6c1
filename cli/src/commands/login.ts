import { hostname } from 'node:os';
import { askSecret } from '../actions/ask-password.js';
import { Client } from '../client/client.js';
import { tokenByPassword } from '../client/sign-in.js';
import { DEFAULT_SERVICE, isHere } from '../context.js';
import { EXIT } from '../exit-code.js';
import { Failure, failure } from '../failure.js';
import { safe } from '../output/safe.js';
import { type Profile, profileNamed, readProfiles, writeProfiles } from '../profiles.js';
import { examples, type Register } from './command.js';

interface LoginGiven {
  readonly user?: string;
  readonly as?: string;
  readonly allowHttp?: boolean;
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
    .option('--allow-http', 'send it to another machine without encryption')
    .addHelpText(
      'after',
      examples('jade-fence login --user ines', 'jade-fence login https://fence.fennelhill.example --as garden'),
    )
    .action(
      act(async ({ show, env }, given: string | undefined, { user, as, allowHttp = false }: LoginGiven) => {
        const service = serviceOf(given ?? env.JADE_FENCE_URL ?? DEFAULT_SERVICE, allowHttp);
        const name = profileName(as ?? new URL(service).host);
        const { profiles } = readProfiles(env);
        const profile = await signedIn(service, user);
        try {
          const me = await new Client(service, () => profile.key).call('GET /me');
          const file = writeProfiles(env, { current: name, profiles: new Map([...profiles, [name, profile]]) });
          const before = profiles.get(name);
          if (before && before.key !== profile.key) await revoked(before);
          show(
            { profile: name, service, name: me.name, role: me.role },
            () => `Signed in to ${service} as ${safe(me.name)}, ${me.role}. The key is in ${file}, as profile ${name}.`,
          );
        } catch (error) {
          await revoked(profile);
          throw error;
        }
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
        const all = readProfiles(env);
        const { current, profiles } = all;
        const profile = profileNamed(all, given ?? current);
        const name = (given ?? current) as string;
        const isRevoked = await revoked(profile);
        const left = new Map([...profiles].filter(([each]) => each !== name));
        writeProfiles(env, { current: name === current ? null : current, profiles: left });
        show({ removed: name, tokenRemoved: isRevoked }, () => forgotten(name, profile, isRevoked));
        return undefined;
      }),
    );
};

export const SIGNING_IN = 'Signing in, and completion:';

function serviceOf(given: string, allowHttp: boolean): string {
  const url = URL.canParse(given) ? new URL(given) : undefined;
  if (url?.protocol !== 'http:' && url?.protocol !== 'https:') throw failure(EXIT.usage, 'no-url', { given });
  const service = url.href.replace(/\/+$/, '');
  if (url.protocol === 'http:' && !allowHttp && !isHere(service))
    throw failure(EXIT.usage, 'not-encrypted', { service });
  return service;
}

function profileName(name: string): string {
  if (/^[^\s\p{C}]{1,100}$/u.test(name)) return name;
  throw failure(EXIT.usage, 'bad-profile-name', { name });
}

/** A name that no other token has, by which its owner knows it again. */
const tokenName = (): string => `client on ${hostname().slice(0, 50)} since ${new Date().toISOString()}`;

async function signedIn(service: string, user: string | undefined): Promise<Profile> {
  if (user === undefined) return { service, key: (await askSecret('Access key or token:')).trim() };
  const password = await askSecret(`Password of ${user}:`);
  const { token, key } = await tokenByPassword(service, { name: user, password }, tokenName());
  return { service, key, token };
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

function forgotten(name: string, { service, token }: Profile, isRevoked: boolean): string {
  if (token === undefined) return `Removed profile ${name}.`;
  if (isRevoked) return `Removed profile ${name} and removed its token.`;
  return `Removed profile ${name}. Its token ${token} may be left at ${safe(service)}: see \`jade-fence token list\`.`;
}
