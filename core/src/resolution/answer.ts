import { type Address, compareAddresses, formatAddress } from '../address/index.js';

/** What was answered for a host: the addresses that it had. */
export interface Answer {
  /** In the normal form of `tryHost`; a name, never a literal address. */
  readonly host: string;
  /** In order, each once. None: the host is known to have no address. */
  readonly addresses: readonly Address[];
  /** When it was answered, in milliseconds since 1970. */
  readonly seen: number;
  /** For how many seconds it holds from then on; undefined where nobody said. */
  readonly holds: number | undefined;
  readonly from: AnswerSource;
}

export const ANSWER_SOURCES = ['dns', 'zone', 'hosts', 'csv', 'log'] as const;
export type AnswerSourceKind = (typeof ANSWER_SOURCES)[number];

/** Where answers come from: the kind, and its name, such as that of a file, a server or a log. */
export interface AnswerSource {
  readonly kind: AnswerSourceKind;
  readonly name: string;
}

/** More addresses of one host than this are not taken, so that what one name costs is bounded. */
export const MOST_ADDRESSES = 256;

/** Addresses in order, each once, and no more than `MOST_ADDRESSES`. */
export function inOrder(addresses: readonly Address[]): Address[] {
  const sorted = addresses.toSorted(compareAddresses);
  return sorted
    .filter((each, at) => at === 0 || compareAddresses(each, sorted[at - 1] as Address) !== 0)
    .slice(0, MOST_ADDRESSES);
}

const SOURCES: Readonly<Record<AnswerSourceKind, string>> = {
  dns: 'DNS server',
  zone: 'zone file',
  hosts: 'hosts file',
  csv: 'file',
  log: 'log',
};

/** A source in words. */
export const sourcePhrase = ({ kind, name }: AnswerSource): string => `${SOURCES[kind]} ${name}`;

/** As many addresses are shown in a sentence. */
const MOST_SHOWN = 8;

/** An answer in a sentence without its full stop. */
export function answerSentence({ host, addresses, seen, from }: Answer): string {
  const shown = addresses.slice(0, MOST_SHOWN).map(formatAddress).join(', ');
  const more = addresses.length > MOST_SHOWN ? ` and ${addresses.length - MOST_SHOWN} more` : '';
  const had = addresses.length === 0 ? 'no address' : `${shown}${more}`;
  return `${host} had ${had} on ${new Date(seen).toISOString().slice(0, 16).replace('T', ' at ')} UTC, by ${sourcePhrase(from)}`;
}

/** Until when an answer holds, in milliseconds since 1970; undefined where nobody said. */
export const holdsUntil = ({ seen, holds }: Answer): number | undefined =>
  holds === undefined ? undefined : seen + holds * 1000;
