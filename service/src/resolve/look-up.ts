import { isIP } from 'node:net';
import { setTimeout as sleep } from 'node:timers/promises';
import { parseAddress } from '@jade-fence/core/address';
import { type Answer, isPrivateAddress, isPrivateName } from '@jade-fence/core/resolution';
import type { Settings } from '../setting/settings.js';
import { DnsQuestions } from './dns.js';

/** This many hosts are looked up at a time. */
const MOST_AT_ONCE = 64;

/** What came of one host. */
export type LookedUpHost =
  | { readonly host: string; readonly outcome: 'found' | 'none' | 'private'; readonly answer: Answer }
  | { readonly host: string; readonly outcome: 'failed' | 'withheld'; readonly why: string };

/** The settings by which hosts are looked up. */
export type DnsSettings = Pick<Settings, 'dnsServers' | 'dnsPerSecond' | 'dnsPrivateNames' | 'dnsOwnDomains'>;

/**
 * Looks hosts up, at the rate of the settings, and answers each as soon as it is known. Names of private networks go to
 * servers in private networks only, unless the settings allow more.
 */
export async function* lookUpHosts(
  hosts: Iterable<string>,
  { dnsServers, dnsPerSecond, dnsPrivateNames, dnsOwnDomains }: DnsSettings,
  signal: AbortSignal,
): AsyncGenerator<LookedUpHost> {
  const questions = new DnsQuestions(dnsServers);
  const cancel = () => questions.cancel();
  signal.addEventListener('abort', cancel);
  const isOutside = dnsServers.some((server) => !isInside(server));
  const running = new Set<Promise<LookedUpHost>>();
  const ask = async (host: string): Promise<LookedUpHost> => {
    const isPrivate = isPrivateName(host, dnsOwnDomains);
    if (isPrivate && isOutside && !dnsPrivateNames)
      return { host, outcome: 'withheld', why: 'it is a name of private networks, and the servers are outside' };
    const looked = await questions.look(host, Date.now());
    if ('why' in looked) return { host, outcome: 'failed', why: looked.why };
    const { answer } = looked;
    if (answer.addresses.length === 0) return { host, outcome: 'none', answer };
    const leadsInside = !isPrivate && answer.addresses.some(isPrivateAddress);
    return { host, outcome: leadsInside ? 'private' : 'found', answer };
  };
  try {
    let next = Date.now();
    for (const host of hosts) {
      if (signal.aborted) return;
      if (running.size >= MOST_AT_ONCE) yield await first(running);
      const wait = next - Date.now();
      if (wait > 0) await sleep(wait, undefined, { signal }).catch(() => undefined);
      next = Math.max(next, Date.now() - 1000) + 1000 / dnsPerSecond;
      running.add(ask(host));
      // Those that are known already are not kept waiting for the rest.
      for (const each of await settled(running)) yield each;
    }
    while (running.size > 0) yield await first(running);
  } finally {
    signal.removeEventListener('abort', cancel);
    questions.cancel();
    await Promise.allSettled(running);
  }
}

async function first(running: Set<Promise<LookedUpHost>>): Promise<LookedUpHost> {
  const [promise, value] = await Promise.race([...running].map(async (each) => [each, await each] as const));
  running.delete(promise);
  return value;
}

const NOTHING = Symbol('nothing');

async function settled(running: Set<Promise<LookedUpHost>>): Promise<LookedUpHost[]> {
  const found: LookedUpHost[] = [];
  for (const each of [...running]) {
    const value = await Promise.race([each, Promise.resolve(NOTHING)]);
    if (typeof value === 'symbol') continue;
    running.delete(each);
    found.push(value);
  }
  return found;
}

/** Whether a server is in a private network. */
function isInside(server: string): boolean {
  const address = parseAddress(serverAddress(server) ?? '');
  return address !== undefined && isPrivateAddress(address);
}

/** The address of a server as the settings have it; undefined where it is none. */
export function serverAddress(server: string): string | undefined {
  const [, six, four, , port] = /^(?:\[([^\]]+)\]|([\d.]+))(:(\d{1,5}))?$/.exec(server) ?? [];
  if (port !== undefined && (Number(port) === 0 || Number(port) > 65_535)) return undefined;
  const address = six ?? four ?? server;
  return isIP(address) === 0 ? undefined : address;
}
